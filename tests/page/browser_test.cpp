// The page as a person meets it, in a browser.
#include "support/browser.h"
#include "support/http.h"
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <kiai/workshop/page.h>

#include <catch2/catch.hpp>

using namespace support;
using nlohmann::json;
namespace fs = std::filesystem;

namespace {

struct Tried : Folder {
    Tried() {
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

TEST_CASE("A press on the stage, a key and a contact are heard and shown", "[page]") {
    Tried tried;
    Browser& browser = tried.browser;
    browser.press("[data-zone=hopper] polygon");
    CHECK(tried.happens("press hopper: played hopper #1"));
    browser.keys("t"); // the press put the stage in focus
    CHECK(tried.happens("key-down KeyT: played groan"));
    browser.press("[data-zone=lift] polygon", 500);
    CHECK(tried.happens("press lift: played lift"));
    CHECK(tried.happens("release lift: stopped what it held"));
    browser.press("[data-binding='14']");
    CHECK(tried.happens("contact marble+glass: played glass"));
    browser.press("[data-binding='7']", 400);
    CHECK(browser.wait_for("[...document.querySelectorAll('#happened li')].filter((item) => "
                           "item.textContent.includes('stopped what it held')).length === 2"));
    // Drawn, not only listed.
    CHECK(browser.wait_for(
        "(() => { const c = document.getElementById('picture'); const d = c.getContext('2d').getImageData(120, 20, "
        "c.width - 120, c.height - 40).data;"
        "let n = 0; for (let i = 0; i < d.length; i += 4) if (d[i] < 80 && d[i + 3] > 200) ++n; return n > 500; })()"));
    CHECK(browser.errors().empty());
}

TEST_CASE("The page works with the keyboard alone", "[page]") {
    Tried tried;
    Browser& browser = tried.browser;
    browser.run("document.querySelector('[data-binding=\"10\"]').focus()");
    browser.keys(" ");
    CHECK(tried.happens("press tray: played brush"));
    browser.run("document.getElementById('stage').focus()");
    browser.keys("1");
    CHECK(tried.happens("key-down Digit1: played oak"));
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

TEST_CASE("Dials, scopes and motions are set from the page, and follow the engine", "[page]") {
    Tried tried;
    Browser& browser = tried.browser;
    browser.run("const s = document.querySelector('[aria-label=\"dial fill\"]'); s.value = 0.9; s.dispatchEvent(new "
                "Event('input'))");
    CHECK(tried.happens("watch fill > 0.8: played warning"));
    CHECK(browser.wait_for(
        "document.querySelector('[aria-label=\"dial fill\"]').closest('tr').textContent.includes('0.9')"));
    post(tried.page->url() + "report", "{\"at\":0,\"dial\":{\"piece\":3}}");
    CHECK(browser.wait_for("document.querySelector('[aria-label=\"dial piece\"]').value === '3'"));
    browser.run("[...document.querySelectorAll('#triggers tr')].find((row) => "
                "row.textContent.startsWith('draweroff')).querySelector('button').click()");
    CHECK(tried.happens("scope-enter drawer: played clatter"));
    CHECK(browser.wait_for("document.querySelector('[data-zone=oak-box]').classList.contains('off') === false"));
    browser.run(
        "[...document.querySelectorAll('#triggers button')].find((button) => button.textContent === 'run').click()");
    CHECK(tried.happens("marker paddle+paddle: played paddle"));
}

TEST_CASE("Why, filter, repeats and ten plays", "[page]") {
    Tried tried;
    Browser& browser = tried.browser;
    browser.run("[...document.querySelectorAll('#triggers tr')].find((row) => row.textContent.includes('press "
                "hopper')).querySelector('button.quiet').click()");
    CHECK(browser.wait_for("document.querySelector('#why .broken')?.textContent.startsWith('triggered')"));
    browser.run("document.querySelector('[aria-label=\"play 10 times brush\"]').click()");
    CHECK(browser.wait_for(
        "[...document.querySelectorAll('#happened li')].some((item) => item.textContent.includes('brush'))"));
    CHECK(tried.happens("#10"));
    browser.run("const f = document.getElementById('filter'); f.value = 'nothing of this'; f.dispatchEvent(new "
                "Event('input'))");
    CHECK(browser.run("return [...document.querySelectorAll('#happened li')].every((item) => item.hidden)") == true);
}

TEST_CASE("Nothing runs off the page at the sizes of a laptop and of a phone", "[page]") {
    Tried tried;
    Browser& browser = tried.browser;
    for (const auto& [width, height] :
         {std::pair{1280, 800}, std::pair{1024, 640}, std::pair{800, 600}, std::pair{480, 800}}) {
        browser.resize(width, height);
        INFO(width << " x " << height);
        CHECK(browser.run("return document.documentElement.scrollWidth <= window.innerWidth") == true);
        CHECK(browser.run("return document.getElementById('stage').getBoundingClientRect().height > 150") == true);
    }
}

TEST_CASE("No text of a project becomes markup", "[page]") {
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
