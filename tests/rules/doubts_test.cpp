// Findings of a running engine: for each a mistake, and the nearest valid use.
#include "support/bench.h"
#include "support/run_tool.h"

#include <catch2/catch.hpp>

using namespace support;

namespace {

constexpr kiai::Frames frame = 800; // of an app that draws sixty times a second

struct Doubting : Bench {
    explicit Doubting(const std::string& text, const Signal& samples = Signal(4800, 0.1f)) : Bench(text, samples) {
        engine.set_findings([this](const kiai::Finding& finding) { found.push_back(finding); });
    }
    /// Returns `code about` for each finding.
    std::string told() const {
        std::string text;
        for (const kiai::Finding& finding : found)
            text += (text.empty() ? "" : ", ") + std::string(to_string(finding.code)) + ' ' + finding.entry;
        return text;
    }
    std::vector<kiai::Finding> found;
};

const std::string varied = "[sound.knock]\ntakes = [\"tone\"]\nvary = { gain = 3 }\nlimit = { plays = 100 }\n";
const std::string four_hums = "[sound.hum]\ntakes = [\"tone\"]\nloop = true\nlimit = { plays = 4 }\n";

} // namespace

TEST_CASE("A sound that is started in every frame is found, once", "[doubt]") {
    Doubting bench(varied + binding("notice = \"n\"", "play = \"knock\""));
    for (int i = 0; i < 100; ++i) {
        bench.engine.play("knock");
        bench.decided(frame);
    }
    CHECK(bench.told() == "every-frame knock");
    CHECK(bench.found[0].message.find("25 times") != std::string::npos);
    Doubting notices(varied + binding("notice = \"n\"", "play = \"knock\""));
    for (int i = 0; i < 40; ++i) {
        notices.engine.notice("n");
        notices.decided(frame);
    }
    CHECK(notices.told() == "every-frame knock");
    Doubting slow(varied);
    for (int i = 0; i < 60; ++i) { // twenty times a second, with ten extra at one frame
        slow.engine.play("knock");
        slow.decided(2400 + 10 * (i % 7));
    }
    for (int i = 0; i < 30; ++i) slow.engine.play("knock");
    slow.decided(frame);
    CHECK(slow.told() == "overlap-grows knock");
}

TEST_CASE("A press in every frame is no such thing: it is one press", "[doubt]") {
    Doubting bench(varied + "[zone.z]\ncircle = { x = 5, y = 5, r = 9 }\n" +
                   binding("press = \"z\"", "play = \"knock\""));
    for (int i = 0; i < 100; ++i) {
        bench.engine.press({5, 5});
        bench.decided(frame);
    }
    CHECK(bench.told().empty());
}

TEST_CASE("A stop in the moment of the start is found, by handle, name and binding", "[doubt]") {
    Doubting bench(varied + binding("notice = \"stop\"", "stop = \"knock\""), Signal(48000, 0.1f));
    bench.engine.play("knock").stop();
    bench.everything(4800);
    CHECK(bench.told() == "play-and-stop knock");
    Doubting named(varied + binding("notice = \"stop\"", "stop = \"knock\""), Signal(48000, 0.1f));
    named.engine.play("knock");
    named.engine.notice("stop");
    named.everything(4800);
    CHECK(named.told() == "play-and-stop knock");
    Doubting later(varied, Signal(48000, 0.1f));
    const kiai::Play play = later.engine.play("knock");
    later.everything(1000); // 21 ms
    kiai::Play(play).stop();
    later.everything(4800);
    CHECK(later.told().empty());
}

TEST_CASE("A watch whose cause is gone at once is not a finding", "[doubt]") {
    Doubting bench(four_hums + "[dial.fill]\n" + binding("watch = \"fill > 0.8\"", "play = \"hum\"") +
                   binding("notice = \"emptied\"", "stop = \"hum\""));
    bench.engine.set_dial("fill", 1);
    bench.engine.notice("emptied");
    bench.everything(4800);
    CHECK(bench.told().empty());
}

TEST_CASE("A short hold is not a stop at the start", "[doubt]") {
    Doubting bench(four_hums + binding("key-down = \"KeyT\"", "hold = \"hum\""));
    bench.engine.key_down("KeyT");
    bench.everything(100);
    bench.engine.key_up("KeyT");
    bench.everything(4800);
    CHECK(bench.told().empty());
}

TEST_CASE("Loops that pile up and are never stopped are found", "[doubt]") {
    Doubting bench(four_hums);
    for (int i = 0; i < 5; ++i) {
        bench.engine.play("hum");
        bench.everything(20000 + 3000 * (i % 2));
    }
    CHECK(bench.told() == "loop-unended hum");
    Doubting stopped(four_hums);
    stopped.engine.play("hum").stop(kiai::Seconds(0.3));
    stopped.everything(48000);
    stopped.found.clear(); // that one was stopped at once
    for (int i = 0; i < 5; ++i) {
        stopped.engine.play("hum");
        stopped.everything(20000 + 3000 * (i % 2));
    }
    CHECK(stopped.told().empty());
}

TEST_CASE("The same recording again and again is found, what varies is not", "[doubt]") {
    const auto played = [](const std::string& text, const char* sound) {
        Doubting bench(text);
        for (int i = 0; i < 12; ++i) {
            bench.engine.play(sound);
            bench.everything(20000 + 5000 * (i % 3));
        }
        return bench.told();
    };
    CHECK(played({}, "tone") == "no-variation tone");
    CHECK(played(varied, "knock").empty());
    CHECK(played("[[accepted]]\nfinding = \"no-variation\"\non = \"tone\"\nreason = \"a signal\"\n", "tone") ==
          "no-variation tone");
    Doubting accepted("[[accepted]]\nfinding = \"no-variation\"\nreason = \"a signal\"\n");
    for (int i = 0; i < 12; ++i) {
        accepted.engine.play("tone");
        accepted.everything(20000);
    }
    REQUIRE(accepted.found.size() == 1);
    CHECK(accepted.found[0].accepted == "a signal");
}

TEST_CASE("A press at 0, 0 before any pointer was anywhere is found", "[doubt]") {
    const std::string zone =
        varied + "[zone.z]\ncircle = { x = 5, y = 5, r = 20 }\n" + binding("press = \"z\"", "play = \"knock\"");
    Doubting bench(zone);
    bench.engine.press({0, 0});
    bench.everything(4800);
    CHECK(bench.told() == "pointer-at-origin z");
    Doubting near(zone);
    near.engine.press({0, 0.5f});
    near.everything(4800);
    CHECK(near.told().empty());
    Doubting been(zone);
    been.engine.pointer({7, 7});
    been.engine.press({0, 0});
    been.everything(4800);
    CHECK(been.told().empty());
}

TEST_CASE("A sound that lasts longer than its even turns is found", "[doubt]") {
    const auto turns = [](kiai::Frames step, kiai::Frames jitter) {
        Doubting bench(varied, Signal(24000, 0.01f));
        for (int i = 0; i < 12; ++i) {
            bench.engine.play("knock");
            bench.everything(step + (i % 2) * jitter);
        }
        return bench.told();
    };
    CHECK(turns(12000, 0) == "overlap-grows knock");
    CHECK(turns(12000, 3000).empty()); // not by a clock
    CHECK(turns(25000, 0).empty());
    Doubting one("[sound.knock]\ntakes = [\"tone\"]\nvary = { gain = 3 }\nlimit = { plays = 1 }\n",
                 Signal(24000, 0.01f));
    for (int i = 0; i < 12; ++i) {
        one.engine.play("knock");
        one.everything(12000);
    }
    CHECK(one.told().empty()); // each is stolen for the next
}

TEST_CASE("Contacts and notices that nothing is bound to are noted", "[doubt]") {
    Doubting bench(varied + binding("contact = [\"marble\", \"oak\"]", "play = \"knock\"") +
                   binding("notice = \"n\"", "nothing = true"));
    bench.engine.contact("marble", "glass");
    bench.engine.contact("marble", "glass");
    bench.engine.contact("oak", "marble");
    bench.engine.notice("n");
    bench.engine.key_down("KeyZ"); // an app passes on every key
    bench.everything(4800);
    CHECK(bench.told() == "nothing-bound marble+glass");
}

TEST_CASE("rehearse prints what was doubtful about a run, with --strict as its status", "[doubt][tool]") {
    const ProjectFolder folder("[clip]\ntone = \"tone.wav\"\n" + varied);
    folder.write_wav("tone.wav", sine(440, 0.1, 4800));
    std::string trace;
    for (int i = 0; i < 40; ++i) trace += "{\"frame\": " + std::to_string(i * 800) + ", \"play\": \"knock\"}\n";
    folder.write("run.jsonl", trace);
    const Ran ran = kiai_tool("rehearse run.jsonl", folder.path());
    CHECK(ran.status == 0);
    CHECK(ran.err.find("warning: your app called play(\"knock\") 25 times in 0.4 s") != std::string::npos);
    CHECK(ran.err.find("[every-frame]") != std::string::npos);
    CHECK(kiai_tool("rehearse run.jsonl --strict", folder.path()).status == 1);
    CHECK(kiai_tool("rehearse '" + demo().string() + "' '" + (demo() / "run.jsonl").string() + "' --strict").status ==
          0);
}
