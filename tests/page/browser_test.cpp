// The page as a person meets it, in a browser.
#include "support/browser.h"
#include "support/http.h"
#include "support/project_folder.h"
#include "support/run_tool.h"
#include "support/signal.h"

#include <kiai/workshop/page.h>

#include <catch2/catch.hpp>

#include <chrono>
#include <set>
#include <thread>

using namespace support;
using nlohmann::json;
namespace fs = std::filesystem;

namespace {

struct Opened : Folder {
    Opened() {
        fs::copy(demo(), path() / "bench", fs::copy_options::recursive);
        page = std::make_unique<kiai::TryPage>(path() / "bench", kiai::TrySettings{.seed = 1});
        browser.go(page->url());
        REQUIRE(browser.wait_for("document.querySelectorAll('#triggers [data-binding]').length === 24"));
        REQUIRE(browser.wait_for("document.querySelector('#happened li') !== null"));
    }
    /// Returns whether a line of "What happened" has this text.
    bool happens(const std::string& text) {
        return browser.wait_for("document.getElementById('happened').textContent.includes(" + json(text).dump() + ")");
    }
    std::unique_ptr<kiai::TryPage> page;
    Browser browser;
};

const std::string tab = "\xee\x80\x84", escape = "\xee\x80\x8c"; // WebDriver's keys

} // namespace

TEST_CASE("A press on the stage, a key and a contact are heard and shown", "[page][speaker][browser]") {
    Opened opened;
    Browser& browser = opened.browser;
    browser.press("[data-zone=hopper] polygon");
    CHECK(opened.happens("press hopper: played hopper #1"));
    browser.keys("t"); // the press put the stage in focus
    CHECK(opened.happens("key-down KeyT: played groan"));
    browser.press("[data-zone=lift] polygon", 500);
    CHECK(opened.happens("press lift: played lift"));
    CHECK(opened.happens("release lift: stopped what it held"));
    browser.press("[data-binding='14']");
    CHECK(opened.happens("contact marble+glass: played glass"));
    browser.press("[data-binding='7']", 400);
    CHECK(browser.wait_for("[...document.querySelectorAll('#happened li')].filter((item) => "
                           "item.textContent.includes('stopped what it held')).length === 2"));
    // Drawn, not only listed.
    CHECK(browser.wait_for(
        "(() => { const c = document.getElementById('picture'); const d = c.getContext('2d').getImageData(120, 20, "
        "c.width - 120, c.height - 40).data;"
        "let n = 0; for (let i = 0; i < d.length; i += 4) if (d[i] < 80 && d[i + 3] > 200) ++n; return n > 500; })()"));
    CHECK(browser.errors() == std::vector<std::string>{});
}

TEST_CASE("The page works with the keyboard alone", "[page][speaker][browser]") {
    Opened opened;
    Browser& browser = opened.browser;
    browser.run("document.querySelector('[data-binding=\"10\"]').focus()");
    browser.keys(" ");
    CHECK(opened.happens("press tray: played brush"));
    browser.run("document.getElementById('stage').focus()");
    browser.keys("1");
    CHECK(opened.happens("key-down Digit1: played oak"));
    browser.keys(escape);
    CHECK(browser.wait_for("document.activeElement !== document.getElementById('stage')"));
    // Every control can be reached, in the order of the page.
    browser.run("document.body.tabIndex = -1; document.body.focus()");
    std::set<std::string> reached;
    for (int i = 0; i < 12; ++i) {
        browser.keys(tab);
        reached.insert(
            browser.run("return document.activeElement.id || document.activeElement.textContent").get<std::string>());
    }
    CHECK(reached.contains("stage"));
    CHECK(reached.contains("record a trace"));
    CHECK(reached.contains("press hopper"));
}

TEST_CASE("Dials, scopes and motions are set from the page, and follow the engine", "[page][speaker][browser]") {
    Opened opened;
    Browser& browser = opened.browser;
    browser.run("const s = document.querySelector('[aria-label=\"dial fill\"]'); s.value = 0.9; s.dispatchEvent(new "
                "Event('input'))");
    CHECK(opened.happens("watch fill > 0.8: played warning"));
    CHECK(browser.wait_for(
        "document.querySelector('[aria-label=\"dial fill\"]').closest('tr').textContent.includes('0.9')"));
    post(opened.page->url() + "report", "{\"at\":0,\"dial\":{\"piece\":3}}");
    CHECK(browser.wait_for("document.querySelector('[aria-label=\"dial piece\"]').value === '3'"));
    browser.run("[...document.querySelectorAll('#triggers tr')].find((row) => "
                "row.textContent.startsWith('draweroff')).querySelector('button').click()");
    CHECK(opened.happens("scope-enter drawer: played clatter"));
    CHECK(browser.wait_for("document.querySelector('[data-zone=oak-box]').classList.contains('off') === false"));
    browser.run(
        "[...document.querySelectorAll('#triggers button')].find((button) => button.textContent === 'run').click()");
    CHECK(opened.happens("marker paddle+paddle: played paddle"));
}

TEST_CASE("A quick press of a trigger that holds does not leave it held", "[page][speaker][browser]") {
    Opened opened;
    Browser& browser = opened.browser;
    for (int i = 0; i < 20; ++i)
        browser.run(
            "const b = document.querySelector('[data-binding=\"7\"]');"
            "for (const type of ['keydown', 'keyup']) b.dispatchEvent(new KeyboardEvent(type, {code: 'Space'}))");
    CHECK(opened.happens("press lift: played lift"));
    CHECK(browser.wait_for("waiting.length === 0 && !sending"));
    CHECK(browser.wait_for("state.plays.length === 0"));
}

TEST_CASE("What plays now can be stopped by its button", "[page][speaker][browser]") {
    Opened opened;
    Browser& browser = opened.browser;
    post(opened.page->url() + "report", "{\"at\":0,\"dial\":{\"fill\":0.9}}");
    REQUIRE(browser.wait_for("document.querySelector('[data-play]') !== null"));
    browser.press("[data-play]", 300); // longer than the time between two events
    CHECK(opened.happens("ended warning"));
    CHECK(browser.wait_for("document.querySelector('[data-play]') === null"));
}

TEST_CASE("A change of the project ends what its old buttons held and ran", "[page][speaker][browser]") {
    Opened opened;
    Browser& browser = opened.browser;
    browser.run(
        "[...document.querySelectorAll('#triggers button')].find((button) => button.textContent === 'run').click();"
        "document.querySelector('[data-binding=\"7\"]').dispatchEvent(new KeyboardEvent('keydown', {code: 'Space'}))");
    CHECK(opened.happens("marker paddle+paddle"));
    CHECK(opened.happens("press lift: played lift"));
    std::string text = opened.read("bench/kiai.toml");
    text.replace(text.find("[sound.brush]"), 13, "[sound.brush]\npitch = 1");
    opened.write("bench/kiai.toml", text);
    CHECK(opened.happens("replaced the project"));
    CHECK(opened.happens("release lift: stopped what it held"));
    CHECK(browser.wait_for("waiting.length === 0 && !sending"));
    browser.run("document.getElementById('happened').replaceChildren()");
    std::this_thread::sleep_for(std::chrono::milliseconds(2500)); // longer than the motion
    CHECK(browser.run("return document.getElementById('happened').textContent.includes('marker paddle')") == false);
    CHECK(browser.errors() == std::vector<std::string>{});
}

TEST_CASE("A page that is closed holds nothing", "[page][speaker][browser]") {
    Opened opened;
    opened.browser.run(
        "document.querySelector('[data-binding=\"7\"]').dispatchEvent(new KeyboardEvent('keydown', {code: 'Space'}))");
    CHECK(opened.happens("press lift: played lift"));
    opened.browser.go("about:blank");
    CHECK(read_events(opened.page->url() + "events", 15,
                      [](const json& event) { return event.at("state").at("plays").empty(); }));
}

TEST_CASE("Why, filter, repeats and ten plays", "[page][speaker][browser]") {
    Opened opened;
    Browser& browser = opened.browser;
    browser.run("[...document.querySelectorAll('#triggers tr')].find((row) => row.textContent.includes('press "
                "hopper')).querySelector('button.quiet').click()");
    CHECK(browser.wait_for("document.querySelector('#why .broken')?.textContent.startsWith('triggered')"));
    browser.run("document.querySelector('[aria-label=\"play 10 times brush\"]').click()");
    CHECK(browser.wait_for(
        "[...document.querySelectorAll('#happened li')].some((item) => item.textContent.includes('brush'))"));
    CHECK(opened.happens("#10"));
    browser.run("const f = document.getElementById('filter'); f.value = 'nothing of this'; f.dispatchEvent(new "
                "Event('input'))");
    CHECK(browser.run("return [...document.querySelectorAll('#happened li')].every((item) => item.hidden)") == true);
}

TEST_CASE("The values of the last plays stand next to what is stated", "[page][speaker][browser]") {
    Opened opened;
    Browser& browser = opened.browser;
    browser.run("document.querySelector('[aria-label=\"values brush\"]').click()");
    CHECK(browser.wait_for("document.getElementById('sounds').textContent.includes('stated: ')"));
    browser.run("document.querySelector('[aria-label=\"play 10 times brush\"]').click()");
    CHECK(browser.wait_for("sounds.values.querySelectorAll('tbody tr').length === 8"));
    // Each within what is stated.
    CHECK(browser.run(
              "const {pitch} = project.sounds.find((one) => one.name === 'brush').layers[0];"
              "return sounds.drawn.get('brush').every(({layer}) => layer.pitch >= pitch[0] - 0.01 && layer.pitch <= "
              "pitch[1] + 0.01) && pitch[0] < pitch[1]") == true);
    browser.run("document.querySelector('[aria-label=\"values brush\"]').click()");
    CHECK(browser.wait_for("sounds.values === null"));
    CHECK(browser.errors() == std::vector<std::string>{});
}

TEST_CASE("A recording is drawn on the page, and expected by a click", "[page][speaker][browser]") {
    Opened opened;
    Browser& browser = opened.browser;
    browser.press("#recording button");
    CHECK(browser.wait_for("recording.on"));
    browser.press("[data-zone=hopper] polygon");
    CHECK(opened.happens("press hopper: played hopper #1"));
    browser.press("#recording button");
    REQUIRE(browser.wait_for("document.querySelector('#recording-parts img')?.naturalWidth > 0"));
    browser.run(
        "document.querySelector('[aria-label=\"expect: hopper is heard within 20 ms of press hopper\"]').click()");
    CHECK(
        browser.wait_for("document.getElementById('recording-parts').textContent.includes('states 1: kiai rehearse')"));
    CHECK(opened.read("bench/traces/by-hand-1.expect.toml").find("heard = \"hopper\"") != std::string::npos);
    CHECK(browser.errors() == std::vector<std::string>{});
}

TEST_CASE("Two hundred sounds and two thousand clips are shown, and only those in view are drawn",
          "[page][speaker][browser]") {
    const Folder folder;
    std::string toml = "format = 1\n[clip]\n", bindings;
    for (int clip = 0; clip < 2000; ++clip) {
        const std::string name = "peg-" + std::to_string(clip + 1);
        folder.write_wav("clips/" + name + ".wav", noise(0.1, 2000, static_cast<unsigned>(clip) + 1));
        toml += name + " = \"clips/" + name + ".wav\"\n";
    }
    for (int sound = 0; sound < 200; ++sound) {
        const std::string name = "sound-" + std::to_string(sound + 1), clip = std::to_string(10 * sound + 1);
        toml += "[sound." + name + "]\ntakes = [";
        for (int take = 1; take <= 10; ++take) toml += "\"peg-" + std::to_string(10 * sound + take) + "\", ";
        toml += "]\n";
        bindings += "[[binding]]\ntrigger = { notice = \"n" + clip + "\" }\naction = { play = \"" + name + "\" }\n";
    }
    folder.write("kiai.toml", toml + bindings);
    const kiai::TryPage page(folder.path(), {.seed = 1});
    Browser browser;
    browser.go(page.url());
    REQUIRE(browser.wait_for("document.querySelectorAll('#clips tbody tr').length === 2000", 60));
    CHECK(browser.run("return document.querySelectorAll('#sounds tbody tr').length") == 200);
    browser.press("[data-binding='200']");
    CHECK(browser.wait_for("document.getElementById('happened').textContent.includes('played sound-200')"));
    // A waveform is read when it comes into view.
    const char* const drawn =
        "[...document.querySelectorAll('#clips canvas')].filter((one) => one.height === 24).length";
    CHECK(browser.wait_for(std::string(drawn) + " < 100"));
    browser.run("document.querySelector('[data-clip=\"peg-1500\"]').scrollIntoView()");
    CHECK(browser.wait_for("document.querySelector('[data-clip=\"peg-1500\"]').height === 24"));
    CHECK(browser.wait_for(std::string(drawn) + " < 200"));
    CHECK(browser.errors() == std::vector<std::string>{});
}

TEST_CASE("Nothing runs off the page at the sizes of a laptop and of a phone", "[page][speaker][browser]") {
    Opened opened;
    Browser& browser = opened.browser;
    for (const auto& [width, height] :
         {std::pair{1280, 800}, std::pair{1024, 640}, std::pair{800, 600}, std::pair{480, 800}}) {
        browser.resize(width, height);
        INFO(width << " x " << height);
        CHECK(browser.run("return document.documentElement.scrollWidth <= window.innerWidth") == true);
        CHECK(browser.run("return document.getElementById('stage').getBoundingClientRect().height > 150") == true);
    }
}

TEST_CASE("No text of a project becomes markup", "[page][speaker][browser]") {
    ProjectFolder folder;
    folder.write_wav("a.wav", Signal(4800, 0.2f));
    const std::string bad = "<img src=x onerror='window.hurt=1'>";
    folder.toml("name = \"" + bad + "\"\n[clip]\na = { file = \"a.wav\", author = \"" + bad + "\", licence = \"" + bad +
                "\" }\n[[sound.s.layer]]\nlabel = \"x\"\ntakes = [\"a\"]\n[[binding]]\ntrigger = { notice = \"n\" "
                "}\naction = { play = \"s\" }\n");
    const kiai::TryPage page(folder.path());
    Browser browser;
    browser.go(page.url());
    CHECK(browser.wait_for("document.querySelectorAll('#clips tr').length > 1"));
    CHECK(browser.run("return document.querySelectorAll('img').length") == 0);
    CHECK(browser.run("return window.hurt === undefined") == true);
    CHECK(browser.run("return document.getElementById('name').textContent") == bad);
}
