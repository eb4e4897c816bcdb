// The commands bind and unbind, and bindings that are written inside a zone.
#include "support/bench.h"
#include "support/project_folder.h"
#include "support/run_tool.h"
#include "support/text.h"

#include <catch2/catch.hpp>

using namespace support;

namespace {

const std::string zones = "[sound.s]\ntakes = [\"tone\"]\n# the lid of the box\n[zone.lid]\ncircle = { x = 10, y = 10, "
                          "r = 5 } # round\n\n[zone.side]\ncircle = { x = 50, y = 10, r = 5 }\n[dial.fill]\n";

struct Box : ProjectFolder {
    explicit Box(const std::string& text = zones) : ProjectFolder("[clip]\ntone = \"tone.wav\"\n" + text) {
        write_wav("tone.wav", Signal(400, 0.1f));
    }
    std::string kiai(const std::string& arguments, int status = 0) const {
        const Ran ran = kiai_tool(arguments, path());
        INFO(arguments << '\n' << ran.out << ran.err);
        CHECK(ran.status == status);
        return ran.out + ran.err;
    }
    std::string toml_text() const { return read("kiai.toml"); }
};

} // namespace

TEST_CASE("A key inside a zone binds its triggers", "[bind]") {
    Bench bench("[zone.lid]\ncircle = { x = 10, y = 10, r = 5 }\npress = \"tone\"\nrelease = { play = \"tone\", gain = "
                "-6 }\nenter = { hold = \"hum\" }\nleave = { stop = { everything = true } }\n[sound.hum]\ntakes = "
                "[\"tone\"]\nloop = true\n");
    bench.engine.pointer({10, 10});
    CHECK(bench.told() == "played hum");
    bench.engine.press({10, 10});
    CHECK(bench.told() == "played tone");
    bench.engine.release();
    CHECK(bench.told() == "played tone");
    bench.engine.pointer({90, 90});
    CHECK(has(bench.told(), "stopped"));
    // Their numbers follow those of [[binding]].
    Bench both("[zone.lid]\ncircle = { x = 10, y = 10, r = 5 }\npress = \"tone\"\n" +
               binding("press = \"lid\"", "play = \"tone\""));
    both.engine.press({10, 10});
    const auto played = with_outcome(both.decided(), kiai::Outcome::played);
    REQUIRE(played.size() == 2);
    CHECK(played[0].binding == 1);
    CHECK(played[1].binding == 2);
}

TEST_CASE("A key inside a zone belongs to the zone's scope", "[bind]") {
    Bench bench(
        "[scope.menu]\n[sound.hum]\ntakes = [\"tone\"]\nloop = true\n[zone.lid]\ncircle = { x = 10, y = 10, r = "
        "5 }\nscope = \"menu\"\npress = \"hum\"\n");
    bench.engine.click({10, 10});
    CHECK(with_outcome(bench.decided(), kiai::Outcome::played).empty());
    bench.engine.enter_scope("menu");
    bench.engine.click({10, 10});
    CHECK(with_outcome(bench.decided(), kiai::Outcome::played).size() == 1);
    bench.engine.leave_scope("menu");
    bench.everything(48000);
    CHECK(bench.engine.plays().empty());
}

TEST_CASE("An error in a key inside a zone names the zone and the key", "[bind]") {
    const std::pair<std::string, std::string> wrong[] = {
        {"press = \"tonne\"", "zone \"lid\", press: unknown sound or clip \"tonne\""},
        {"press = 5", "zone \"lid\", press takes a sound or an action, not a number"},
        {"enter = { paly = \"tone\" }", "zone \"lid\", enter: unknown key `paly`"},
        {"release = { hold = \"tone\" }", "zone \"lid\", release: `hold` needs a trigger that ends"}};
    for (const auto& [line, message] : wrong) {
        const Box box("[zone.lid]\ncircle = { x = 10, y = 10, r = 5 }\n" + line + "\n");
        const kiai::LoadResult loaded = kiai::load_project(box.path());
        INFO(line);
        REQUIRE(kiai::count(loaded.findings, kiai::Severity::error) == 1);
        CHECK(has(loaded.findings[0].message, message));
        CHECK(loaded.findings[0].line == 6);
        CHECK(loaded.findings[0].binding == 1);
    }
}

TEST_CASE("bind writes one line into the zone, or a [[binding]] at the end, and the rest of the file stays",
          "[bind][tool]") {
    const Box box;
    const std::string before = box.toml_text();
    CHECK(box.kiai("bind press lid play s --dry-run") == "      + press = \"s\"\n");
    CHECK(box.toml_text() == before);
    box.kiai("bind press lid play s");
    CHECK(has(box.toml_text(), "circle = { x = 10, y = 10, r = 5 } # round\npress = \"s\"\n"));
    CHECK(has(box.toml_text(), "# the lid of the box\n"));
    CHECK(has(box.kiai("bind press lid play s"), "already bound: line"));
    box.kiai("bind enter lid hold tone --gain -3");
    CHECK(has(box.toml_text(), "enter = { hold = \"tone\", gain = -3 }\n"));
    box.kiai("bind press lid toggle s"); // the zone has a press already
    CHECK(has(box.toml_text(), "\n[[binding]]\ntrigger = { press = \"lid\" }\naction = { toggle = \"s\" }\n"));
    box.kiai("bind press side play s --when 'fill > 0.5' --gap '200 ms' --once");
    CHECK(has(box.toml_text(), "trigger = { press = \"side\" }\naction = { play = \"s\" }\nwhen = \"fill > 0.5\"\n"
                               "gap = \"200 ms\"\nonce = true\n"));
    box.kiai("bind contact ball wall play s");
    CHECK(has(box.kiai("bind contact ball wall play s"), "already bound: binding 3 in line"));
    box.kiai("bind start play s --for '2 s'");
    box.kiai("bind notice done set fill 0.25");
    box.kiai("bind notice stop stop bus main --fade '1 s'");
    box.kiai("bind key-down KeyT stop everything");
    box.kiai("bind every '2 s' play s --chance '50 %'");
    box.kiai("bind watch 'fill > 0.8' play s");
    CHECK(has(box.toml_text(), "{ stop = { everything = true } }"));
    CHECK(has(box.toml_text(), "{ set = \"fill\", to = 0.25 }"));
    CHECK(has(box.toml_text(), "{ stop = { bus = \"main\" }, fade = \"1 s\" }"));
    const kiai::LoadResult loaded = kiai::load_project(box.path());
    for (const kiai::Finding& finding : loaded.findings) CHECK(finding.severity != kiai::Severity::error);
    kiai::Engine engine(loaded.project, {.seed = 1});
    engine.press({10, 10});
    CHECK(peak(render(engine, 1000)) > 0.05f);
}

TEST_CASE("What cannot be bound is refused with the nearest name, and the file stays", "[bind][tool]") {
    const Box box;
    const std::string before = box.toml_text();
    const std::pair<std::string, std::string> wrong[] = {
        {"click lid play s", "unknown trigger \"click\" [bad-value]; did you mean \"press\"?"},
        {"press lidd play s", "unknown zone \"lidd\" [unknown-name]; did you mean \"lid\"?"},
        {"press lid paly s", "unknown action \"paly\" [bad-value]; did you mean \"play\"?"},
        {"press lid play tonne", "did you mean \"tone\"?"},
        {"press lid play", "missing name after \"play\""},
        {"press lid", "missing action"},
        {"press lid play s t", "unexpected word \"t\""},
        {"key-down T play s", "unknown key code \"T\" [unknown-key-code]; did you mean \"KeyT\"?"},
        {"press lid play s --gain 75", "not a gain in dB"},
        {"release lid hold s", "`hold` needs a trigger that ends"}};
    for (const auto& [words, message] : wrong) {
        INFO(words);
        CHECK(has(box.kiai("bind " + words, 1), message));
        CHECK(box.toml_text() == before);
    }
    box.kiai("bind", 2);
    box.kiai("bind press", 2);
    // Errors that the project already has are not the binding's.
    const Box broken(zones + "[sound.bad]\ntakes = [\"none\"]\n");
    broken.kiai("bind press lid play s");
}

TEST_CASE("unbind removes bindings in both forms, by trigger, action or number", "[bind][tool]") {
    const Box box(
        zones + "[zone.top]\ncircle = { x = 90, y = 10, r = 5 }\npress = \"s\"\nenter = \"s\"\n" +
        binding("press = \"top\"", "play = \"tone\"") +
        "[[binding]]\ntrigger = { contact = [\"a\", \"b\"] }\naction = [{ play = \"s\" }, { play = \"tone\" }]\n");
    box.kiai("unbind contact b a play s");
    CHECK(has(box.toml_text(), "action = [{ play = \"tone\" }]"));
    box.kiai("unbind press top play s");
    CHECK(has(box.toml_text(), "enter = \"s\""));
    CHECK(has(box.toml_text(), "trigger = { press = \"top\" }"));
    CHECK(has(box.kiai("unbind press topp", 1), "did you mean \"top\"?"));
    CHECK(has(box.kiai("unbind 3rd", 1), "unknown trigger \"3rd\""));
    CHECK(has(box.kiai("unbind 9", 1), "use a number from 1 to 3"));
    box.kiai("unbind 3");
    CHECK(!has(box.toml_text(), "enter"));
    box.kiai("unbind press top");
    box.kiai("unbind contact a b");
    CHECK(!has(box.toml_text(), "binding"));
    CHECK(has(box.kiai("unbind press top", 1), "no binding is press top"));
    CHECK(kiai::load_project(box.path()).ok());
}

TEST_CASE("list, check, rename and remove know the bindings inside a zone", "[bind][tool]") {
    const Box box(zones +
                  "[zone.top]\ncircle = { x = 90, y = 10, r = 5 }\npress = \"s\"\nenter = { hold = \"tone\" }\n");
    const std::string listed = box.kiai("list bindings");
    CHECK(has(listed, "press top"));
    CHECK(has(listed, "hold tone"));
    box.kiai("rename s knock");
    CHECK(has(box.toml_text(), "press = \"knock\"\n"));
    box.kiai("rename top lid-top");
    CHECK(has(box.kiai("fire press lid-top"), "knock"));
    CHECK(has(box.kiai("remove knock", 1), "zone \"lid-top\": press plays it, and needs \"knock\""));
    box.toml(
        "[clip]\ntone = \"tone.wav\"\n[zone.top]\ncircle = { x = 90, y = 10, r = 5 }\nenter = \"tone\"\n[sound.s]\n"
        "takes = [\"tone\"]\nvary = { gain = 1 }\n");
    CHECK(has(box.kiai("check"), "zone \"top\", enter plays clip \"tone\" directly"));
    CHECK(has(box.kiai("zones"), "enter"));
}
