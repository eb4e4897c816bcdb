// kiai.toml is changed on the page, as a person does it in a browser.
#include "support/browser.h"
#include "support/http.h"
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <kiai/workshop/page.h>

#include <catch2/catch.hpp>

#include <chrono>
#include <memory>
#include <thread>

using namespace support;
using nlohmann::json;
namespace fs = std::filesystem;

namespace {

/// The page with editing switched on.
struct Editing : Folder {
    Editing() {
        fs::copy(demo(), path() / "bench", fs::copy_options::recursive);
        page = std::make_unique<kiai::TryPage>(path() / "bench", kiai::TrySettings{.seed = 1, .edit = true});
        browser.go(page->url());
        REQUIRE(browser.wait_for("document.querySelector('#change-switch button') !== null"));
        browser.press("#change-switch button");
    }
    bool written(const std::string& line) {
        for (int i = 0; i < 100; ++i) {
            if (read("bench/kiai.toml").find(line) != std::string::npos) return true;
            std::this_thread::sleep_for(std::chrono::milliseconds(40));
        }
        return false;
    }
    void enter(const std::string& selector, const std::string& value) {
        browser.run("const input = document.querySelector(" + json(selector).dump() +
                    "); input.value = " + json(value).dump() + "; input.dispatchEvent(new Event('change'))");
    }
    std::unique_ptr<kiai::TryPage> page;
    Browser browser;
};

} // namespace

TEST_CASE("Numbers and curves of a sound are changed on the page, shown as a difference, and undone by a key",
          "[page][speaker][browser]") {
    Editing editing;
    Browser& browser = editing.browser;
    const std::string before = editing.read("bench/kiai.toml");
    browser.press("[aria-label='change oak']");
    REQUIRE(browser.wait_for("document.querySelector('[data-place=\"sound.oak.gain\"]') !== null"));
    editing.enter("[data-place='sound.oak.gain']", "-3");
    CHECK(editing.written("gain = -3"));
    CHECK(browser.wait_for("document.querySelector('#change .after')?.textContent.includes('gain = -3')"));
    CHECK(browser.wait_for("document.querySelector('[data-place=\"sound.oak.gain\"]')?.value === '-3'"));
    editing.enter("[data-place='sound.oak.limit.gap']", "20 ms");
    CHECK(editing.written("gap = \"20 ms\""));
    editing.enter("[data-place='sound.oak.vary.pitch']", "-1, 2");
    CHECK(editing.written("pitch = [-1, 2]"));
    REQUIRE(browser.wait_for("document.querySelector('.curve circle') !== null"));
    browser.run("document.querySelectorAll('.curve circle')[2].focus()");
    browser.keys("\xee\x80\x93"); // arrow up
    CHECK(editing.written("[1, 0.5]]"));
    editing.enter("[data-place='sound.oak.gain']", "loud");
    CHECK(browser.wait_for("document.getElementById('trouble').textContent.includes('loud is not a number')"));
    browser.run("document.activeElement.blur()");
    for (int i = 0; i < 4; ++i) {
        browser.run(
            "document.body.dispatchEvent(new KeyboardEvent('keydown', {code: 'KeyZ', ctrlKey: true, bubbles: true}))");
        CHECK(browser.wait_for("edit.steps === " + std::to_string(3 - i)));
    }
    const bool as_before = editing.read("bench/kiai.toml") == before;
    CHECK(as_before);
    CHECK(browser.errors() == std::vector<std::string>{});
}

TEST_CASE("Layers, follows and LFOs are changed, added and removed on the page", "[page][speaker][browser]") {
    Editing editing;
    Browser& browser = editing.browser;
    browser.press("[aria-label='change hopper']");
    REQUIRE(browser.wait_for("document.querySelector('[data-place=\"sound.hopper.layer.2.gain\"]') !== null"));
    editing.enter("[data-place='sound.hopper.layer.2.gain']", "-11");
    CHECK(editing.written("gain = -11"));
    editing.enter("[data-place='sound.hopper.layer.1.low-pass']", "4000");
    CHECK(editing.written("low-pass = 4000"));
    browser.run("document.querySelector('[aria-label=\"add an LFO to hopper layer 1\"]').click()");
    CHECK(editing.written("lfo = [{ target = \"pitch\", rate = 5, depth = 0.2 }]"));
    REQUIRE(browser.wait_for("document.querySelector('[data-place=\"sound.hopper.layer.1.lfo.1.depth\"]') !== null"));
    editing.enter("[data-place='sound.hopper.layer.1.lfo.1.depth']", "0.5");
    CHECK(editing.written("lfo = [{ target = \"pitch\", rate = 5, depth = 0.5 }]"));
    browser.run("const add = document.querySelector('[aria-label=\"add a follow to hopper layer 2\"]');"
                "add.parentElement.querySelectorAll('select')[0].value = 'pitch'; add.click()");
    CHECK(editing.written("follow = [{ value = \"strength\", target = \"pitch\", curve = [[0, -2], [1, 2]] }]"));
    REQUIRE(browser.wait_for("document.querySelector('[aria-label=\"remove follow 1 of hopper layer 2\"]') !== null"));
    browser.run("document.querySelector('[aria-label=\"remove follow 1 of hopper layer 2\"]').click()");
    CHECK(browser.wait_for("document.querySelector('[aria-label=\"remove follow 1 of hopper layer 2\"]') === null"));
    CHECK(editing.read("bench/kiai.toml").find("target = \"pitch\", curve = [[0, -2]") == std::string::npos);
    CHECK(browser.errors() == std::vector<std::string>{});
}

TEST_CASE("Zones are moved, drawn and removed on the stage, and bindings added and removed",
          "[page][speaker][browser]") {
    Editing editing;
    Browser& browser = editing.browser;
    browser.press("#zone-bar button");
    browser.run("chooseZone('tray')");
    browser.run("stage.element.focus()");
    browser.keys("\xee\x80\x94"); // arrow right
    CHECK(editing.written("rectangle = { x = 241, y = 520, width = 240, height = 50 }"));
    browser.run("zones.drawing = 'circle'; buildZoneBar(); document.getElementById('zone-name').value = 'knob'");
    browser.press("#stage", 30);
    CHECK(editing.written("[zone.knob]\ncircle = { x = "));
    CHECK(browser.wait_for("document.querySelector('[data-zone=knob]') !== null"));
    browser.run("chooseZone('knob'); stage.element.focus()");
    browser.keys("\xee\x80\x97"); // delete
    CHECK(browser.wait_for("document.querySelector('[data-zone=knob]') === null"));
    browser.run("const words = document.querySelector('[aria-label=\"new binding\"]'); words.value = 'press funnel "
                "play glass'; words.form.requestSubmit()");
    CHECK(editing.written("press = \"glass\""));
    CHECK(browser.wait_for("document.querySelectorAll('#triggers [data-binding]').length === 25"));
    browser.run("document.querySelector('[aria-label=\"remove binding 25\"]').click()");
    CHECK(browser.wait_for("document.querySelectorAll('#triggers [data-binding]').length === 24"));
    // A marker at the median of the taps.
    browser.run("const s = document.querySelector('[aria-label=\"playhead of paddle\"]'); const row = s.closest('tr');"
                "for (const frame of [20, 24, 22]) { s.value = frame; [...row.querySelectorAll('button')].find((b) => "
                "b.textContent === 'tap').click(); }"
                "row.querySelector('[aria-label=\"marker of paddle\"]').value = 'back';"
                "[...row.querySelectorAll('button')].find((b) => b.textContent === 'place').click()");
    CHECK(editing.written("back = 22"));
    CHECK(browser.errors() == std::vector<std::string>{});
}
