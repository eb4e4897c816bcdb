// Projects made from the table of keys: values within their ranges are accepted, and play without faults.
#include "support/any_project.h"

#include <kiai/keys.h>

#include <catch2/catch.hpp>

#include <random>
#include <set>
#include <string>

using namespace support;

namespace {

Choose chance(std::uint32_t seed) {
    return [random = std::mt19937(seed)](unsigned below) mutable { return static_cast<unsigned>(random() % below); };
}

} // namespace

TEST_CASE("Projects generated from the table of keys play any history, with finite samples only",
          "[engine][any-project]") {
    std::set<std::string> written;
    int played = 0;
    for (std::uint32_t seed = 1; seed <= 30; ++seed) {
        const Choose choose = chance(seed);
        const std::string one = any_project(choose, written), other = any_project(choose, written);
        INFO("seed " << seed << "\n" << one << "\n----\n" << other);
        const kiai::LoadResult first = load_any_project(one), second = load_any_project(other);
        for (const kiai::LoadResult* loaded : {&first, &second})
            for (const kiai::Finding& finding : loaded->findings) {
                INFO(finding);
                REQUIRE(finding.severity != kiai::Severity::error);
            }
        const History history = any_history(choose, first.project, second.project, 1000);
        REQUIRE(history.finite);
        played += history.played;
    }
    CHECK(played > 30 * 50);
    // A new key is covered as soon as it is in the table; one that takes a text needs words in any_project.cpp.
    const std::set<std::string> elsewhere{"clip.from-app", "clip.pending", "clip.outside", "sound.pending",
                                          "sound.variant", "sound.use",    "loop.points"};
    const std::set<std::string> silent{"project", "credit", "accepted"};
    for (const kiai::Key& key : kiai::project_keys()) {
        const std::string name = std::string(key.parent) + "." + key.name;
        INFO(name);
        CHECK(written.contains(name) != (elsewhere.contains(name) || silent.contains(key.parent)));
    }
}
