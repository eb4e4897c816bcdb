// Current plays during a change of the project.
#include "support/bench.h"
#include "support/signal.h"

#include <catch2/catch.hpp>

#include <cmath>
#include <filesystem>
#include <memory>

using namespace support;

namespace {

/// A project in a folder whose text changes.
struct Changing {
    explicit Changing(const std::string& text, const Signal& samples = sine(997, 0.5, 48000)) : folder(text) {
        folder.write_wav("tone.wav", samples);
        folder.write_wav("other.wav", sine(1500, 0.5, 48000));
        folder.toml(clips + text);
        project = folder.load();
    }
    kiai::Project now(const std::string& text) {
        folder.toml(clips + text);
        const kiai::LoadResult loaded = kiai::load_project(folder.path(), {.reuse = project});
        for (const kiai::Finding& finding : loaded.findings) UNSCOPED_INFO(finding.message);
        REQUIRE(loaded.ok());
        return project = loaded.project;
    }
    static constexpr const char* clips = "[clip]\ntone = 'tone.wav'\nother = 'other.wav'\n";
    ProjectFolder folder;
    kiai::Project project;
};

struct Live : Changing {
    explicit Live(const std::string& text, const Signal& samples = sine(997, 0.5, 48000))
        : Changing(text, samples), engine(project, {.seed = 1}) {
        engine.set_log([this](const kiai::Decision& decision) { log.push_back(decision); });
    }
    void change(const std::string& text) { engine.set_project(now(text)); }
    Signal run(kiai::Frames frames) {
        const Signal out = side(render(engine, frames), 0);
        engine.poll();
        return out;
    }
    std::vector<std::string> outcomes() const {
        std::vector<std::string> words;
        for (const kiai::Decision& decision : log)
            words.push_back(std::string(to_string(decision.outcome)) +
                            (decision.sound.empty() ? "" : " " + decision.sound));
        return words;
    }
    kiai::Engine engine;
    std::vector<kiai::Decision> log;
};

const std::string hums = "[sound.hum]\ntakes = ['tone']\nloop = true\nlimit = { plays = 1000 }\n";
constexpr kiai::Frames settled = 2400 + 200; ///< 50 ms, and the latency

} // namespace

TEST_CASE("Gain, pan and pitch of what is playing go over to what they are now, within 50 ms", "[change]") {
    Live live(hums);
    live.engine.play("hum");
    live.run(9600);
    live.change(hums + "gain = -12\n");
    const Signal out = live.run(9600);
    CHECK(db(fit_sine(out, 997, settled, 9600).amplitude) == Approx(db(0.5) - 12).margin(0.01));
    live.change(hums + "gain = -12\npan = -1\n");
    CHECK(db(fit_sine(live.run(9600), 997, settled, 9600).amplitude) == Approx(db(0.5) - 12 + 3.01).margin(0.01));
    live.change(hums + "pitch = 12\n");
    const Signal higher = live.run(9600);
    const Fit fit = fit_sine(higher, 2 * 997, settled, 9600);
    CHECK(db(fit.amplitude) == Approx(db(0.5)).margin(0.05));
    CHECK(fit.snr_db() > 80);
    CHECK(with_outcome(live.log, kiai::Outcome::played).size() == 1);
    CHECK(with_outcome(live.log, kiai::Outcome::changed).size() == 3);
}

TEST_CASE("A change of bus, follow and LFO reaches what is playing", "[change]") {
    const std::string with = "[bus.low]\ngain = -6\n[dial.speed]\nstart = 1\n" + hums;
    Live live(with);
    live.engine.play("hum");
    live.run(9600);
    live.change(with + "bus = 'low'\n");
    CHECK(db(fit_sine(live.run(9600), 997, settled, 9600).amplitude) == Approx(db(0.5) - 6).margin(0.01));
    live.change(with + "follow = [{ dial = 'speed', target = 'gain', curve = [[0, 0], [1, -10]] }]\n");
    CHECK(db(fit_sine(live.run(9600), 997, settled, 9600).amplitude) == Approx(db(0.5) - 10).margin(0.01));
    live.engine.set_dial("speed", 0);
    CHECK(db(fit_sine(live.run(48000), 997, 40000, 48000).amplitude) == Approx(db(0.5)).margin(0.01));
    live.change(with + "lfo = [{ target = 'gain', shape = 'square', rate = 5, depth = 2 }]\n");
    const Signal swung = live.run(48000);
    double least = 1, most = 0;
    for (std::size_t at = 9600; at + 480 < 48000; at += 480) {
        const double level = rms(swung, at, at + 480);
        least = std::min(least, level);
        most = std::max(most, level);
    }
    CHECK(db(most / least) == Approx(4).margin(0.1));
}

TEST_CASE("No change of the project is heard as a click", "[change][clicks]") {
    const std::string plain = hums, low = "[bus.low]\ngain = -9\n";
    const std::string after =
        GENERATE_COPY(plain + "gain = -40\n", plain + "gain = 6\n", plain + "pan = 1\n", low + plain + "bus = 'low'\n",
                      plain + "low-pass = 900\n", "[bus.low]\ngain = -9\nlow-pass = 700\n" + plain + "bus = 'low'\n",
                      "[bus.main]\nhigh-pass = 600\n" + plain,
                      plain + "lfo = [{ target = 'gain', shape = 'sine', rate = 3, depth = 6 }]\n", std::string(),
                      std::string("[sound.hum]\ntakes = ['tone']\nloop = { to = '0.5 s' }\nstart = '10 ms'\n"));
    for (const double frequency : {20.0, 100.0, 440.0, 3000.0, 10000.0}) {
        INFO(after << " " << frequency);
        const Signal source = sine(frequency, 0.4, 48000);
        Live live(plain, source);
        live.engine.play("hum");
        Signal out = live.run(9600);
        live.change(after);
        const Signal rest = live.run(9600);
        out.insert(out.end(), rest.begin(), rest.end());
        const Signal part(out.begin() + 4800, out.end());
        // A gain of 6 dB doubles the sine's own second difference, and two sines double it again.
        const double own = largest_inner_second_difference(Signal(source.begin(), source.begin() + 9600)) * 2;
        CHECK(db(std::max(1e-12, largest_inner_second_difference(part) - own)) <= -80);
    }
}

TEST_CASE("What is not changed continues as if nothing had happened, bit for bit", "[change]") {
    const std::string moved = "[dial.speed]\nstart = 0.5\n" + hums +
                              "follow = [{ dial = 'speed', target = 'pitch', curve = [[0, 0], [1, 7]] }]\n"
                              "lfo = [{ target = 'gain', rate = 4, depth = 6 }]\n[sound.short]\ntakes = ['tone']\n";
    Live plain(moved), changed(moved);
    for (Live* live : {&plain, &changed}) {
        live->engine.play("hum");
        live->run(5000);
        live->engine.play("short");
        live->engine.set_dial("speed", 1);
        live->run(1000);
    }
    changed.change("[sound.new]\ntakes = ['other']\n[dial.first]\n" + moved +
                   "[sound.last]\ntakes = ['other']\ngain = 3\n");
    CHECK(plain.run(48000) == changed.run(48000));
}

TEST_CASE("A loop that has changed starts again, and its handle, hold and values are those of the new one",
          "[change]") {
    const std::string own = "follow = [{ value = 'speed', target = 'gain', curve = [[0, 0], [1, -20]] }]\n";
    Live live(hums + own + binding("key-down = 'KeyA'", "hold = 'hum'"));
    kiai::Play play = live.engine.play("hum");
    play.set("speed", 1);
    live.engine.key_down("KeyA");
    live.run(9600);
    live.change("[sound.hum]\ntakes = ['other']\nloop = true\n" + own + binding("key-down = 'KeyA'", "hold = 'hum'"));
    const Signal out = live.run(9600);
    CHECK(rms(out, settled, 9600) == Approx(0.5 / std::sqrt(2.0) * std::sqrt(1 + 0.01 + 2 * 0.1)).epsilon(0.01));
    CHECK(fit_sine(out, 1500, settled, 9600).snr_db() > 80);
    CHECK(live.outcomes() == std::vector<std::string>{"played hum", "done hum", "played hum", "changed", "played hum",
                                                      "played hum", "ended hum", "ended hum"});
    CHECK(live.log.back().reason == kiai::EndReason::changed);
    CHECK(live.log.back().ended_by == live.log[3].cause);
    CHECK(play.playing());
    live.engine.key_up("KeyA");
    live.run(4800);
    CHECK(live.engine.sounding() == 1);
    play.stop(kiai::Seconds(0));
    live.run(4800);
    CHECK(live.engine.sounding() == 0);
    CHECK_FALSE(play.playing());
}

TEST_CASE("A changed loop that is streamed starts again, though it had the only stream", "[change][streams]") {
    const auto text = [](const char* clip) {
        return std::string("[clip]\ntone = { file = 'tone.wav', stream = true }\nother = { file = 'other.wav', stream "
                           "= true }\n") +
               "[sound.hum]\ntakes = ['" + clip + "']\nloop = true\n";
    };
    const ProjectFolder folder;
    folder.write_wav("tone.wav", sine(1000, 0.5, 96000));
    folder.write_wav("other.wav", sine(1500, 0.5, 96000));
    folder.toml(text("tone"));
    const int streams = GENERATE(1, 2); // of which what fades has as many again
    kiai::Engine engine(folder.load(), {.seed = 1, .streams = streams, .synchronous_streams = true});
    engine.play("hum");
    render(engine, 9600);
    folder.toml(text("other"));
    engine.set_project(folder.load());
    const Signal heard = side(render(engine, 96000), 0);
    CHECK(engine.sounding() == 1);
    CHECK(fit_sine(heard, 1500, settled, 96000).snr_db() > 80);
}

TEST_CASE("What is gone from the project fades, and is unknown from then on", "[change]") {
    Live live(hums + "[sound.short]\ntakes = ['other']\n");
    kiai::Play play = live.engine.play("hum");
    live.engine.play("short");
    live.run(4800);
    live.change("[sound.short]\ntakes = ['other']\n");
    const Signal out = live.run(9600);
    CHECK(fit_sine(out, 1500, settled, 9600).snr_db() > 80); // it alone
    CHECK_FALSE(play.playing());
    live.engine.play("hum");
    live.run(10);
    CHECK(live.log.back().outcome == kiai::Outcome::unknown_name);
    live.change(hums);
    live.engine.play("hum");
    live.run(10);
    CHECK(live.log.back().outcome == kiai::Outcome::played); // it is back
}

TEST_CASE("A lowered limit ends the oldest, a lowered one of a bus those of least priority", "[change]") {
    Live live(hums + "priority = 5\n[sound.low]\ntakes = ['other']\nloop = true\n");
    for (int i = 0; i < 4; ++i) live.engine.play("hum"), live.engine.play("low");
    live.run(100);
    const std::string low = "[sound.low]\ntakes = ['other']\nloop = true\n";
    live.log.clear();
    live.change("[sound.hum]\ntakes = ['tone']\nloop = true\nlimit = { plays = 2 }\npriority = 5\n" + low);
    live.run(9600);
    auto gone = with_outcome(live.log, kiai::Outcome::stolen);
    REQUIRE(gone.size() == 2);
    CHECK(gone[0].play == 1);
    CHECK(gone[1].play == 3);
    CHECK(to_string(gone[0].limit.value()) == "sound hum");
    live.log.clear();
    live.change("[sound.hum]\ntakes = ['tone']\nloop = true\nlimit = { plays = 2 }\npriority = 5\n" + low +
                "[bus.main]\nlimit = { plays = 3 }\n");
    live.run(9600);
    gone = with_outcome(live.log, kiai::Outcome::stolen);
    REQUIRE(gone.size() == 3);
    for (const kiai::Decision& decision : gone) CHECK(decision.sound == "low");
    CHECK(live.engine.sounding() == 3);
}

TEST_CASE("A shuffle continues through a change, and never gives the same twice in a row", "[change]") {
    const auto sounds = [](int takes, const std::string& more) {
        std::string text = "[clip]\n", list;
        for (int take = 0; take < takes; ++take) {
            text += "c" + std::to_string(take) + " = 'tone.wav'\n";
            list += "'c" + std::to_string(take) + "', ";
        }
        return text + "[sound.shuffled]\ntakes = [" + list + "]\nlimit = { plays = 1000 }\n" + more;
    };
    const ProjectFolder folder;
    folder.write_wav("tone.wav", Signal(10, 0.1f));
    const auto load = [&](int takes, const std::string& more) {
        folder.toml(sounds(takes, more));
        return folder.load();
    };
    const auto heard = [&](bool change, bool grow) {
        kiai::Engine engine(load(5, ""), {.seed = 9});
        std::vector<std::string> clips;
        engine.set_log([&](const kiai::Decision& decision) {
            for (const kiai::LayerTake& layer : decision.layers) clips.push_back(layer.clip);
        });
        for (int i = 0; i < 60; ++i) {
            if (change) engine.set_project(load(grow ? 3 + (i + 2) % 4 : 5, i % 2 ? "gain = -1\n" : ""));
            engine.play("shuffled");
            render(engine, 16);
            engine.poll();
        }
        return clips;
    };
    const auto plain = heard(false, false);
    REQUIRE(plain.size() == 60);
    CHECK(heard(true, false) == plain);
    const auto grown = heard(true, true);
    REQUIRE(grown.size() == 60);
    CHECK(std::adjacent_find(grown.begin(), grown.end()) == grown.end());
}

TEST_CASE("Samples that nothing plays any longer are freed", "[change]") {
    Live live(hums);
    std::weak_ptr<const kiai::model::Project> first = live.project.shared();
    live.engine.play("hum");
    live.run(1000);
    live.change("[sound.hum]\ntakes = ['other']\nloop = true\n");
    CHECK_FALSE(first.expired()); // what fades plays them
    live.run(9600);
    live.engine.poll();
    CHECK(first.expired());
}

TEST_CASE("What has not changed is not decoded again", "[change]") {
    Changing changing(hums);
    const kiai::Project first = changing.project, second = changing.now(hums + "gain = -1\n");
    CHECK(first.fingerprint() != second.fingerprint());
    CHECK(changing.now(hums).fingerprint() == first.fingerprint());
    // Different content with the same size and time is not noticed, so the old samples are heard.
    const auto file = changing.folder.path() / "tone.wav";
    const auto time = std::filesystem::last_write_time(file);
    changing.folder.write_wav("tone.wav", Signal(48000, 0.125f));
    std::filesystem::last_write_time(file, time);
    const auto level = [](const kiai::Project& project) {
        kiai::Engine engine(project, {.seed = 1});
        engine.play("tone");
        return rms(side(render(engine, 9600), 0), 4800, 9600);
    };
    CHECK(level(changing.now(hums)) == Approx(0.5 / std::sqrt(2.0)).epsilon(0.01));
    CHECK(level(changing.folder.load()) == Approx(0.125).epsilon(0.001)); // decoded again
    changing.folder.write_wav("tone.wav", Signal(100, 0.25f));
    kiai::Engine engine(changing.now(hums), {.seed = 1});
    engine.play("tone");
    CHECK(rms(side(render(engine, 400), 0), static_cast<std::size_t>(engine.latency()) + 10,
              static_cast<std::size_t>(engine.latency()) + 90) == Approx(0.25));
}

TEST_CASE("A thousand changes with sounds on leave nothing behind", "[change]") {
    Live live(hums);
    live.engine.play("hum");
    live.run(10); // it plays the samples of the first
    std::vector<std::weak_ptr<const kiai::model::Project>> all;
    std::vector<kiai::Project> projects;
    for (int i = 0; i < 4; ++i)
        projects.push_back(live.now(hums + "gain = " + std::to_string(-i) + "\n[sound.n" + std::to_string(i) +
                                    "]\ntakes = ['other']\n"));
    for (int i = 0; i < 1000; ++i) {
        live.engine.set_project(projects[static_cast<std::size_t>(i % 4)]);
        if (i % 5 == 0) live.engine.play("n" + std::to_string(i % 4), {.pitch = 12});
        live.run(200);
    }
    live.run(48000);
    CHECK(live.engine.sounding() == 1);
    CHECK(with_outcome(live.log, kiai::Outcome::changed).size() == 1000);
    for (kiai::Project& project : projects) all.push_back(project.shared());
    projects.clear();
    live.change(hums);
    live.run(10);
    int kept = 0;
    for (const auto& one : all) kept += one.expired() ? 0 : 1;
    CHECK(kept == 0);
}
