// What would never end, and what only waits, when a run ends.
#include "support/bench.h"
#include "support/signal.h"

#include <kiai/workshop/rehearse.h>

#include <catch2/catch.hpp>

using support::Bench;
using support::binding;

namespace {

const char* const sequences = R"(
[sequence.slow]
steps = [{ wait = "1 s" }, { play = "tone" }, { wait = "end" }, { wait = "2 s" }, { play = "tone" }]
[sequence.forever]
steps = [{ repeat = 0, steps = [{ play = "tone" }, { wait = "10 ms" }] }]
[sequence.itself]
steps = [{ play = "tone" }, { wait = "10 ms" }, { run = "itself" }]
)";

kiai::Rehearsal rehearsed(const std::string& text, const std::string& lines, int block = 256) {
    const support::Folder folder;
    folder.write("run.jsonl", R"({"trace": 1, "rate": 48000, "seed": 1})"
                              "\n" +
                                  lines);
    const kiai::LoadedTrace loaded = kiai::load_trace(folder.path() / "run.jsonl");
    REQUIRE(loaded.findings.empty());
    return kiai::rehearse(support::project_of(support::Signal(1000, 0.1f), text), loaded.trace, {.block = block});
}

std::vector<kiai::Frames> begun(const kiai::Rehearsal& rehearsal) {
    std::vector<kiai::Frames> frames;
    for (const kiai::Decision& decision : rehearsal.decisions)
        if (decision.outcome == kiai::Outcome::played) frames.push_back(decision.frame);
    return frames;
}

} // namespace

TEST_CASE("A rehearsal waits for a sequence that waits in silence", "[wind]") {
    const auto rehearsal =
        rehearsed(sequences + binding("notice = 'go'", "run = 'slow'"), R"({"at": 0, "notice": "go"})");
    // The end of the first play is served at a multiple of 64 frames.
    CHECK(begun(rehearsal) == std::vector<kiai::Frames>{48000, 49024 + 96000});
}

TEST_CASE("A rehearsal waits for a play that is to begin later", "[wind]") {
    const auto rehearsal = rehearsed("", R"({"at": 0, "play": "tone", "delay": 3.0})");
    CHECK(begun(rehearsal) == std::vector<kiai::Frames>{144000});
}

TEST_CASE("What would begin plays for ever ends with the tail of a rehearsal", "[wind]") {
    const std::string every =
        GENERATE(as<std::string>(), sequences + binding("notice = 'go'", "run = 'forever'"),
                 sequences + binding("notice = 'go'", "run = 'itself'"),
                 binding("every = '10 ms'", "play = 'tone'") + binding("notice = 'go'", "play = 'tone'"),
                 binding("ended = 'tone'", "play = 'tone'") + binding("notice = 'go'", "play = 'tone'"));
    const auto rehearsal = rehearsed(every, R"({"at": 0, "notice": "go"})");
    REQUIRE(begun(rehearsal).size() > 90); // until the tail of two seconds has passed
    CHECK(begun(rehearsal).back() > 94000);
    CHECK(begun(rehearsal).back() < 98100);
    const auto other = rehearsed(every, R"({"at": 0, "notice": "go"})", 1000);
    CHECK(begun(rehearsal) == begun(other));
    CHECK(rehearsal.samples == other.samples);
}

TEST_CASE("A loop that a sequence begins after the tail is faded out too", "[wind]") {
    const auto rehearsal =
        rehearsed("[sound.hum]\ntakes = ['tone']\nloop = true\n[sequence.late]\nsteps = [{ wait = '3 s' }, "
                  "{ play = 'hum' }, { wait = 'end' }]\n" +
                      binding("notice = 'go'", "run = 'late'"),
                  R"({"at": 0, "notice": "go"})");
    REQUIRE(begun(rehearsal) == std::vector<kiai::Frames>{144000});
    CHECK(rehearsal.decisions.back().outcome == kiai::Outcome::over); // the sequence
    CHECK(rehearsal.endless == std::vector<std::string>{"hum"});
}

TEST_CASE("A loop that is not the reason why a rehearsal continues is not called endless", "[wind]") {
    const auto rehearsal =
        rehearsed("[sound.hum]\ntakes = ['tone']\nloop = true\n[sound.long]\ntakes = ['tone']\n"
                  "loop = { count = 200 }\n" +
                      binding("notice = 'go'", "play = 'hum'") + binding("notice = 'go'", "play = 'long'"),
                  R"({"at": 0, "notice": "go"})");
    CHECK(rehearsal.endless == std::vector<std::string>{"hum"});
}

TEST_CASE("An engine reports what still waits", "[wind]") {
    Bench bench(sequences);
    CHECK(bench.engine.waiting() == 0);
    bench.engine.run("slow");
    bench.engine.play("tone", {.delay = kiai::Seconds(1)});
    bench.told();
    CHECK(bench.engine.waiting() == 2);
    bench.told(48100);
    CHECK(bench.engine.waiting() == 1);
    bench.told(48000 * 3);
    CHECK(bench.engine.waiting() == 0);
}
