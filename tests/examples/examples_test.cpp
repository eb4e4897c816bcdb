// The examples run, and the README shows them unchanged.
#include "support/places.h"
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <catch2/catch.hpp>

#include <algorithm>

using namespace support;
namespace fs = std::filesystem;

namespace {

const fs::path examples = fs::path(source_folder()) / "examples";

} // namespace

TEST_CASE("The two lines run, say nothing wrong, and return when the sound has ended", "[examples]") {
    const Ran ran = run(build_folder() + "/bin/two-lines", examples);
    CHECK(ran.status == 0);
    CHECK(ran.out.empty());
    // If there is no output device, the program reports it once.
    const std::string silent = "kiai: warning: nothing is heard: ";
    CHECK((ran.err.empty() || (ran.err.find(silent) == 0 && ran.err.find('\n') + 1 == ran.err.size())));
}

TEST_CASE("The frame loop runs, and its log reports what it did", "[examples]") {
    const Ran ran = run(build_folder() + "/bin/frame-loop", examples);
    INFO(ran.out << ran.err);
    CHECK(ran.status == 0);
    CHECK(ran.err.empty());
    for (const std::string part : {"press hopper: played hopper #1", "contact marble+oak: played oak #2",
                                   "play lift: played lift #3", "ended lift #3: stopped"})
        CHECK(ran.out.find(part) != std::string::npos);
}

TEST_CASE("What the demo sounds like is held by an app's own test", "[examples]") {
    const Ran ran = run(build_folder() + "/bin/sounds-as-meant", examples);
    INFO(ran.out << ran.err);
    CHECK(ran.status == 0);
    CHECK(ran.out.find("met: hopper is heard within 20 ms of press hopper") != std::string::npos);
}

TEST_CASE("An engine that runs says why something is silent", "[examples]") {
    const Ran ran = run(build_folder() + "/bin/why-silent", examples);
    CHECK(ran.status == 1);
    CHECK(ran.out.find("fanfare is silent: triggered:") != std::string::npos);
    CHECK(ran.out.find("notice \"run-completed\" came instead") != std::string::npos);
}

TEST_CASE("In another folder the two lines say where they looked, and do not fail", "[examples]") {
    const Folder empty;
    const Ran ran = run(build_folder() + "/bin/two-lines", empty.path());
    CHECK(ran.status == 0);
    CHECK(ran.err.find("marble-run/kiai.toml: error: missing folder \"" +
                       (fs::canonical(empty.path()) / "marble-run").string() + "\" [no-project]") != std::string::npos);
}

TEST_CASE("The README and the page of the examples show the programs as they are", "[examples]") {
    for (const auto& [page, name] :
         {std::pair("README.md", "first/two-lines.cpp"), std::pair("examples/README.md", "first/frame-loop.cpp")}) {
        std::string body = text_of(examples / name);
        body = body.substr(body.find("int main"));
        INFO(name);
        CHECK(text_of(fs::path(source_folder()) / page).find(body) != std::string::npos);
    }
}

TEST_CASE("The demo's clips are what their generator makes", "[examples]") {
    const Folder made;
    REQUIRE(run("'" + build_folder() + "/bin/make-marble-run' .", made.path()).status == 0);
    std::size_t clips = 0;
    for (const auto& entry : fs::directory_iterator(demo() / "clips")) {
        ++clips;
        const std::string kept = text_of(entry.path()), fresh = made.read("clips/" + entry.path().filename().string());
        INFO(entry.path());
        REQUIRE(kept.size() == fresh.size());
        // Equal except for the last bit, because another C library may round a sine differently.
        int most = 0;
        for (std::size_t i = 44; i + 1 < kept.size(); i += 2) {
            const auto sample = [&](const std::string& bytes) {
                return static_cast<std::int16_t>(static_cast<unsigned char>(bytes[i]) |
                                                 static_cast<unsigned char>(bytes[i + 1]) << 8);
            };
            most = std::max(most, std::abs(sample(kept) - sample(fresh)));
        }
        CHECK(most <= 1);
    }
    CHECK(clips == 42);
}
