// Markers from taps while a motion runs.
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <kiai/workshop/markers.h>

#include <catch2/catch.hpp>

using namespace support;

namespace {

const std::string wheel = "[motion.paddle]\nframes = 60\nrate = 30 # a second\n";

/// Several turns of a motion of 60 frames at 30 a second, reported 60 times a second, with taps at frames of each turn.
kiai::Trace turns(int count, const std::vector<double>& frames, double jitter = 0) {
    kiai::Trace trace;
    trace.sample_rate = 48000;
    std::vector<std::pair<kiai::Frames, kiai::Report>> reports;
    for (int i = 0; i <= count * 120; ++i) {
        kiai::Report report;
        report.kind = kiai::ReportKind::playhead;
        report.name = "paddle";
        report.value = static_cast<float>(i % 120) / 2;
        reports.emplace_back(static_cast<kiai::Frames>(i) * 800, report);
    }
    for (int turn = 0; turn < count; ++turn)
        for (const double frame : frames) {
            kiai::Report report;
            report.kind = kiai::ReportKind::notice;
            report.name = "tap";
            const double at = turn * 2 + frame / 30 + jitter * ((turn % 3) - 1);
            reports.emplace_back(static_cast<kiai::Frames>(at * 48000), report);
        }
    std::stable_sort(reports.begin(), reports.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
    for (const auto& [frame, report] : reports) trace.lines.push_back({0, frame, report});
    return trace;
}

} // namespace

TEST_CASE("Taps of several turns become markers at their medians", "[markers]") {
    const ProjectFolder folder(wheel);
    const auto found = kiai::mark_taps(folder.path(), turns(6, {10, 30, 58}, 0.03), "paddle", "strike");
    REQUIRE(found.edited.ok());
    REQUIRE(found.markers.size() == 3);
    CHECK(found.turns == Approx(6).margin(0.05));
    CHECK(found.markers[0].frame == 10);
    CHECK(found.markers[1].frame == 30);
    CHECK(found.markers[2].frame == 58);
    for (const kiai::TappedMarker& one : found.markers) {
        CHECK(one.taps == 6);
        CHECK(one.spread == Approx(0.03).margin(0.005));
    }
    CHECK(folder.read("kiai.toml").find("rate = 30 # a second\nmarkers = { strike = [10, 30, 58] }\n") !=
          std::string::npos);
    CHECK(folder.load().motions().has("paddle")); // without a marker the motion was not complete
    // Another marker is added, the same one replaced, others stay.
    REQUIRE(kiai::mark_taps(folder.path(), turns(4, {20}), "paddle", "splash").edited.ok());
    REQUIRE(kiai::mark_taps(folder.path(), turns(4, {12}), "paddle", "strike").edited.ok());
    CHECK(folder.read("kiai.toml").find("markers = { strike = 12, splash = 20 }") != std::string::npos);
}

TEST_CASE("Taps around the end of the motion are one marker, an accidental tap is ignored", "[markers]") {
    const ProjectFolder folder(wheel);
    kiai::Trace trace = turns(6, {59.6}, 0.05); // before and after the end
    const auto around = kiai::mark_taps(folder.path(), trace, "paddle", "strike", {.dry_run = true});
    REQUIRE(around.markers.size() == 1);
    CHECK(around.markers[0].taps >= 5);
    CHECK((around.markers[0].frame == 59 || around.markers[0].frame == 0));
    kiai::Trace once = turns(6, {20});
    kiai::Report slip;
    slip.kind = kiai::ReportKind::notice;
    slip.name = "tap";
    once.lines.insert(once.lines.begin() + 90, {0, once.lines[90].due(48000), slip});
    const auto found = kiai::mark_taps(folder.path(), once, "paddle", "strike", {.dry_run = true});
    REQUIRE(found.markers.size() == 2);
    CHECK(found.markers[0].used);
    CHECK(!found.markers[1].used);
    CHECK(folder.read("kiai.toml").find("markers") == std::string::npos);
}

TEST_CASE("Unknown motions, bad names and traces without taps are refused", "[markers]") {
    const ProjectFolder folder(wheel);
    const auto why = [&](const kiai::Trace& trace, const std::string& motion, const std::string& marker) {
        const auto found = kiai::mark_taps(folder.path(), trace, motion, marker);
        REQUIRE(found.edited.findings.size() == 1);
        return found.edited.findings[0].message + "; " + found.edited.findings[0].fix;
    };
    CHECK(why(turns(2, {5}), "padle", "strike") == "unknown motion \"padle\"; did you mean \"paddle\"?");
    CHECK(why(turns(2, {5}), "paddle", "A B").find("cannot name a marker") != std::string::npos);
    CHECK(why(turns(2, {}), "paddle", "strike").find("has no notice \"tap\"") != std::string::npos);
    CHECK(why({}, "paddle", "strike").find("has no notice \"tap\"") != std::string::npos);
}

TEST_CASE("markers prints frames, taps and spread, and writes them", "[markers][tool]") {
    const ProjectFolder folder(wheel);
    REQUIRE(kiai::save_trace(folder.path() / "taps.jsonl", turns(4, {15, 45}, 0.02)).empty());
    const Ran look = kiai_tool("markers taps.jsonl paddle strike --dry-run", folder.path());
    INFO(look.out << look.err);
    CHECK(look.status == 0);
    CHECK(look.out.find("±") != std::string::npos);
    CHECK(look.out.find("markers = { strike = [15, 45] }") != std::string::npos);
    CHECK(kiai_tool("markers taps.jsonl paddle strike", folder.path()).status == 0);
    CHECK(folder.read("kiai.toml").find("[15, 45]") != std::string::npos);
    CHECK(kiai_tool("markers taps.jsonl wheel strike", folder.path()).status == 1);
}
