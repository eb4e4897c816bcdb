// A report in a browser, and the pictures of the documentation.
#include "support/browser.h"
#include "support/http.h"
#include "support/places.h"
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <kiai/workshop/page.h>

#include <catch2/catch.hpp>

#include <chrono>
#include <cstdlib>
#include <thread>

using namespace support;
using nlohmann::json;
namespace fs = std::filesystem;

// Run by scripts/screenshots, with the files to write in the environment.
TEST_CASE("The page and the report are drawn for the documentation", "[.picture]") {
    const char *const page_picture = std::getenv("KIAI_PAGE_PICTURE"),
                      *const report_picture = std::getenv("KIAI_REPORT_PICTURE"),
                      *const over = std::getenv("KIAI_OVER");
    REQUIRE((page_picture && report_picture && over));
    const Folder folder;
    fs::copy(demo(), folder.path() / "marble-run", fs::copy_options::recursive);
    const kiai::TryPage page(folder.path() / "marble-run", {.over = over, .seed = 1});
    Browser browser;
    browser.go(page.url());
    REQUIRE(browser.wait_for("document.querySelectorAll('#triggers [data-binding]').length === 24"));
    std::this_thread::sleep_for(std::chrono::seconds(1));
    browser.press("[data-zone=hopper] polygon");
    browser.keys("t12");
    browser.press("[data-zone=lift] polygon", 1500);
    for (int i = 0; i < 3; ++i) browser.press("[data-binding='14']");
    for (const char* lines :
         {"{\"at\":0,\"dial\":{\"fill\":0.9}}", "{\"at\":0,\"contact\":[\"marble\",\"oak\"],\"strength\":0.7}",
          "{\"at\":0,\"contact\":[\"marble\",\"brass\"],\"strength\":0.5}"}) {
        REQUIRE(post(page.url() + "report", lines).status == 200);
        std::this_thread::sleep_for(std::chrono::milliseconds(300));
    }
    browser.run("document.getElementById('triggers').scrollTop = 0; showWhy('press tray')");
    REQUIRE(browser.wait_for("document.querySelector('#why li') !== null"));
    browser.picture(page_picture);
    REQUIRE(kiai::write_report(folder.path() / "marble-run", folder.path() / "r.html", {.over = over}).error == "");
    browser.go("file://" + (folder.path() / "r.html").string());
    REQUIRE(browser.wait_for("document.querySelectorAll('#clips tr').length > 40"));
    browser.picture(report_picture);
}

TEST_CASE("A report needs nobody: it shows zones, tables, waveforms and the rehearsal, and its clips are heard",
          "[page][speaker][browser]") {
    const Folder folder;
    const auto result = kiai::write_report(demo(), folder.path() / "r.html", {.trace = demo() / "run.jsonl"});
    CHECK(result.error == "");
    CHECK(result.clips == 42);
    CHECK(result.bytes < 3000000);
    CHECK(result.bytes == fs::file_size(folder.path() / "r.html"));
    const std::string text = folder.read("r.html");
    CHECK(text.find("http") == text.find("http-equiv")); // no address of any server ...
    CHECK(text.find("http:", text.find("http-equiv") + 5) == text.find("http://www.w3.org/2000/svg")); // ... but a name
    CHECK(text.find("src=\"") == std::string::npos);
    CHECK(text.find("href=\"") == std::string::npos);
    Browser browser;
    browser.go("file://" + (folder.path() / "r.html").string());
    CHECK(browser.wait_for("document.querySelectorAll('#clips tbody tr').length === 42"));
    CHECK(browser.run("return document.querySelectorAll('#stage [data-zone]').length") == 10);
    CHECK(browser.run("return document.querySelectorAll('#triggers tbody tr').length") == 24);
    CHECK(browser.run("return document.querySelectorAll('#sounds tbody tr').length") == 14);
    CHECK(browser.wait_for("document.querySelector('#picture-section img').naturalWidth >= 1280"));
    CHECK(browser.wait_for("document.querySelector('#clips').textContent.includes('The Kiai authors, MIT')"));
    CHECK(browser.run("const c = document.querySelector('[data-clip=motor]'); const d = "
                      "c.getContext('2d').getImageData(0, 0, c.width, c.height).data;"
                      "let n = 0; for (let i = 3; i < d.length; i += 4) if (d[i] > 200) ++n; return n > 500") == true);
    // Its sounds are as long as the clips, within the padding of the encoding.
    browser.run("window.heard = null; const a = new Audio(inside.audio.motor); a.onloadedmetadata = () => { "
                "window.heard = a.duration }; a.load()");
    CHECK(browser.wait_for("window.heard > 2.25 && window.heard < 2.4"));
    browser.press("[aria-label='play motor']");
    CHECK(browser.run("return document.getElementById('trouble').hidden") == true);
    CHECK(browser.errors() == std::vector<std::string>{});

    const auto quiet = kiai::write_report(demo(), folder.path() / "q.html", {.without_audio = true});
    CHECK(quiet.clips == 0);
    CHECK(quiet.bytes < result.bytes / 3);
    browser.go("file://" + (folder.path() / "q.html").string());
    CHECK(browser.wait_for("document.querySelectorAll('#clips tbody tr').length === 42"));
    CHECK(browser.run("return document.querySelectorAll('#clips button').length") == 0);
}

TEST_CASE("A text of a project cannot end the data of a report", "[page][speaker]") {
    ProjectFolder folder;
    folder.write_wav("a.wav", Signal(4800, 0.2f));
    folder.toml("name = \"</script><script>window.hurt=1</script><!--\"\n[clip]\na = { file = \"a.wav\", author = "
                "\"</script><b>\" }\n");
    CHECK(kiai::write_report(folder.path(), folder.path() / "r.html").error == "");
    Browser browser;
    browser.go("file://" + (folder.path() / "r.html").string());
    CHECK(browser.wait_for("document.querySelectorAll('#clips tbody tr').length === 1"));
    CHECK(browser.run("return window.hurt === undefined && document.querySelectorAll('b').length === 0") == true);
    CHECK(browser.run("return document.getElementById('name').textContent") ==
          "</script><script>window.hurt=1</script><!--");
}

TEST_CASE("A report does not play without the engine for browsers, and says how to build it", "[page]") {
    const Folder folder;
    const fs::path file = folder.path() / "r.html";
    const auto result = kiai::write_report(demo(), file, {.engine = folder.path()});
    CHECK(result.error == (folder.path() / "kiai.wasm").string() + " is missing; build it with scripts/web");
    CHECK(!fs::exists(file));
    const Ran ran =
        run("'" + tested_tool() + "' report '" + demo().string() + "' --playable --out '" + file.string() + "'");
    CHECK(ran.status == 2);
    CHECK(ran.err ==
          "kiai: --playable: no kiai.wasm is installed with this tool; build it with scripts/web, and name its "
          "folder with --engine\n");
    CHECK(!fs::exists(file));
}
