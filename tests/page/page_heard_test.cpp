// What is done on the page in a browser is heard.
#include "support/browser.h"
#include "support/http.h"
#include "support/places.h"
#include "support/project_folder.h"
#include "support/recorded.h"
#include "support/run_tool.h"

#include <kiai/workshop/page.h>
#include <kiai/workshop/rehearse.h>
#include <kiai/workshop/trace.h>

#include <catch2/catch.hpp>

#include <cstdlib>

using namespace support;
using nlohmann::json;
namespace fs = std::filesystem;

// Run by `with-sound-server`; the folder gets the project and the trace of what was done.
TEST_CASE("A page that is played by hand is recorded", "[.hum]") {
    const fs::path out = std::getenv("KIAI_OUT");
    fs::copy(demo(), out / "bench", fs::copy_options::recursive);
    kiai::TryPage page(out / "bench", {.seed = 3});
    Browser browser;
    browser.go(page.url());
    REQUIRE(browser.wait_for("document.querySelectorAll('#triggers [data-binding]').length === 24"));
    REQUIRE(browser.wait_for("document.getElementById('device').textContent.includes('48000')"));
    browser.run("document.querySelector('#recording button').click()");
    REQUIRE(browser.wait_for("recording.on"));
    browser.press("[data-zone=lift] polygon", 900);
    browser.press("[data-zone=tray] polygon");
    browser.run("document.querySelector('[aria-label=\"play oak\"]').click()");
    REQUIRE(browser.wait_for(
        "state.plays.length === 0 && document.getElementById('happened').textContent.includes('ended oak')"));
    browser.run("document.querySelector('#recording button').click()");
    CHECK(browser.wait_for("!recording.on"));
}

TEST_CASE("What is done on the page is heard: a sound server records the rehearsal of its trace", "[device]") {
    HeardParts parts{0, 10};
    for (int attempt = 0; attempt < 4 && parts.found < parts.all / 2; ++attempt) {
        const Folder server;
        const Ran ran = run("KIAI_OUT='" + server.path().string() + "' '" + source_folder() +
                            "/tests/output/with-sound-server' '" + server.path().string() + "' '" + build_folder() +
                            "/bin/kiai_tests' 'A page that is played by hand is recorded'");
        INFO(ran.out << ran.err);
        REQUIRE(ran.status == 0);
        const kiai::LoadedTrace trace = kiai::load_trace(server.path() / "bench/traces/by-hand-1.jsonl");
        REQUIRE(trace.ok());
        const kiai::Rehearsal meant = kiai::rehearse(kiai::load_project(demo()).project, trace.trace);
        const std::vector<float> samples = recorded(server.path());
        const Signal left = side(samples, 0), expected = side(meant.samples, 0);
        parts = parts_heard(left, expected, 2400);
        UNSCOPED_INFO("attempt " << attempt + 1 << ": " << parts.found << " of " << parts.all << " parts");
        REQUIRE(parts.all > 10);
    }
    CHECK(parts.found >= parts.all / 2);
}
