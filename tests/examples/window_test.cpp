// The windowed marble run with real clicks and keys, and the same run without a window.
#include "support/places.h"
#include "support/project_folder.h"
#include "support/recorded.h"
#include "support/run_tool.h"

#include <catch2/catch.hpp>

#include <algorithm>
#include <map>
#include <sstream>

using namespace support;
namespace fs = std::filesystem;

namespace {

const std::string bench = build_folder() + "/bin/bench", quoted_demo = "'" + demo().string() + "'";

/// Returns the differences between a run's decisions, up to a frame, and its log; one line each.
std::vector<std::string> otherwise(const std::vector<kiai::Decision>& log, const kiai::Rehearsal& run) {
    const auto up_to_end = [&](const std::vector<kiai::Decision>& decisions) {
        kiai::Rehearsal part;
        for (const kiai::Decision& decision : decisions)
            if (decision.frame < log.back().frame) part.decisions.push_back(decision);
        return part;
    };
    std::vector<std::string> lines;
    for (const kiai::Difference& one : kiai::differences(up_to_end(log), up_to_end(run.decisions)).all)
        lines.push_back(describe(one.kind == kiai::Difference::Kind::gone ? one.before : one.now) + " [" + one.what +
                        "]");
    return lines;
}

/// Counts lines such as `press hopper: played hopper`.
std::map<std::string, int> counted(const std::vector<kiai::Decision>& decisions) {
    std::map<std::string, int> counts;
    for (const kiai::Decision& decision : decisions)
        if (decision.cause > 0 && decision.outcome != kiai::Outcome::ended)
            ++counts[std::string(to_string(decision.trigger)) + ' ' + decision.on + ": " + to_string(decision.outcome) +
                     (decision.sound.empty() ? "" : ' ' + decision.sound)];
    return counts;
}

} // namespace

TEST_CASE("Without a window the marble run is the same each time, and its trace is its rehearsal", "[examples]") {
    const Folder first, second;
    for (const Folder* folder : {&first, &second}) {
        const Ran ran =
            run("'" + bench + "' --project " + quoted_demo + " --script run.jsonl --log log.jsonl --picture end.png",
                folder->path());
        INFO(ran.err);
        REQUIRE(ran.status == 0);
        CHECK(ran.err.empty()); // the engine finds nothing doubtful about it
    }
    CHECK(first.read("run.jsonl") == second.read("run.jsonl"));
    CHECK(first.read("run.jsonl") == text_of(demo() / "run.jsonl")); // scripts/make-demo records it again
    CHECK(first.read("log.jsonl") == second.read("log.jsonl"));
    CHECK(first.read("end.png").substr(1, 3) == "PNG");
    const auto log = kiai::load_log(first.path() / "log.jsonl").rehearsal.decisions;
    const auto run =
        kiai::rehearse(kiai::load_project(demo()).project, kiai::load_trace(first.path() / "run.jsonl").trace);
    CHECK(otherwise(log, run).empty());
    auto counts = counted(log);
    CHECK(counts["press hopper: played hopper"] == 9);
    CHECK(counts["press hopper: not-met"] > 0); // the hopper is empty then
    CHECK(counts["contact marble+oak: played oak"] > 20);
    CHECK(counts["contact marble+glass: played glass"] > 5);
    CHECK(counts["contact marble+marble: played marble"] > 3);
    CHECK(counts["watch fill > 0.8: played warning"] == 1);
    CHECK(counts["press lamp: stopped warning"] == 1);
    CHECK(counts["notice run-complete: done"] == 1);
    CHECK(counts["notice tray-emptied: played groan"] == 2);
    CHECK(counts["press brass-box: played brass"] == 1);
    CHECK(counts["play roll: played roll"] > 10);
    for (const kiai::Finding& finding : run.findings) CHECK(finding.severity == kiai::Severity::note);
    namespace expect = kiai::expect;
    using namespace std::chrono_literals;
    CHECK(meets(run, expect::ended("", {.of = "scope-leave bench", .within = 205ms})));
    CHECK(meets(run, expect::ended("lift", {.of = "release lift", .within = 1.5s})));
    CHECK(meets(run, expect::at_most(6, "oak")));
    CHECK(meets(run, expect::fresh("oak")));
}

TEST_CASE("In its window it answers real clicks and keys, and a sound server hears it", "[device]") {
    // On a busy machine a device may be late and leave gaps, so the test tries more than once.
    HeardParts parts{0, 10};
    for (int attempt = 0; attempt < 4 && parts.found < parts.all / 2; ++attempt) {
        const Folder folder;
        const std::string path = "'" + folder.path().string() + "'";
        const Ran ran =
            run("'" + source_folder() + "/tests/output/with-sound-server' " + path + " '" + source_folder() +
                "/tests/examples/with-window' " + path + " '" + bench + "' " + quoted_demo);
        INFO(ran.out << ran.err);
        REQUIRE(ran.status == 0);
        const auto log = kiai::load_log(folder.path() / "log.jsonl").rehearsal.decisions;
        auto counts = counted(log);
        std::string all;
        for (const auto& [what, count] : counts) all += std::to_string(count) + "  " + what + '\n';
        INFO(all);
        CHECK(counts["press hopper: played hopper"] == 3);
        CHECK(counts["key-down Space: played hopper"] == 1);
        CHECK(counts["key-down Digit3: done"] == 1);
        // A marble may have struck the glass a moment before, and then the gap refuses the key's play.
        CHECK(counts["key-down Digit3: played glass"] + counts["key-down Digit3: refused-gap glass"] == 1);
        CHECK(counts["press lift: played lift"] == 1);
        CHECK(counts["release lift: stopped"] == 1);
        CHECK(counts["scope-enter drawer: played clatter"] == 1);
        CHECK(counts["press brass-box: played brass"] == 1);
        CHECK(counts["contact marble+oak: played oak"] > 3);
        std::istringstream page(folder.read("page.jsonl"));
        std::string project, event;
        std::getline(page, project), std::getline(page, event);
        CHECK(project.find("\"name\":\"marble-run\"") != std::string::npos);
        CHECK(project.find("\"reports\":false") != std::string::npos);
        CHECK(event.find("release lift: stopped what it held") != std::string::npos);
        const kiai::LoadedTrace trace = kiai::load_trace(folder.path() / "trace.jsonl");
        REQUIRE(trace.ok());
        const auto run = kiai::rehearse(kiai::load_project(demo()).project, trace.trace);
        CHECK(otherwise(log, run).empty());

        const std::vector<float> samples = recorded(folder.path());
        const Signal heard = side(samples, 0), meant = side(run.samples, 0);
        parts = parts_heard(heard, meant, 4800);
        UNSCOPED_INFO("attempt " << attempt + 1 << ": " << parts.found << " of " << parts.all << " parts are heard");
        REQUIRE(parts.all > 10);
    }
    CHECK(parts.found >= parts.all / 2);
}
