// The page as a person meets it, in a browser.
#include "support/browser.h"
#include "support/http.h"
#include "support/project_folder.h"
#include "support/run_tool.h"
#include "support/signal.h"

#include <kiai/workshop/page.h>
#include <kiai/workshop/rehearse.h>
#include <kiai/workshop/trace.h>

#include <catch2/catch.hpp>

#include <chrono>
#include <cstdlib>
#include <cstring>
#include <thread>

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

TEST_CASE("A press on the stage, a key and a contact are heard and shown", "[page][speaker]") {
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
    CHECK(browser.errors() == std::vector<std::string>{});
}

TEST_CASE("The page works with the keyboard alone", "[page][speaker]") {
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

TEST_CASE("Dials, scopes and motions are set from the page, and follow the engine", "[page][speaker]") {
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

TEST_CASE("A quick press of a trigger that holds does not leave it held", "[page][speaker]") {
    Tried tried;
    Browser& browser = tried.browser;
    for (int i = 0; i < 20; ++i)
        browser.run(
            "const b = document.querySelector('[data-binding=\"7\"]');"
            "for (const type of ['keydown', 'keyup']) b.dispatchEvent(new KeyboardEvent(type, {code: 'Space'}))");
    CHECK(tried.happens("press lift: played lift"));
    CHECK(browser.wait_for("waiting.length === 0 && !sending"));
    CHECK(browser.wait_for("state.plays.length === 0"));
}

TEST_CASE("What plays now can be stopped by its button", "[page][speaker]") {
    Tried tried;
    Browser& browser = tried.browser;
    post(tried.page->url() + "report", "{\"at\":0,\"dial\":{\"fill\":0.9}}");
    REQUIRE(browser.wait_for("document.querySelector('[data-play]') !== null"));
    browser.press("[data-play]", 300); // longer than the time between two events
    CHECK(tried.happens("ended warning"));
    CHECK(browser.wait_for("document.querySelector('[data-play]') === null"));
}

TEST_CASE("A change of the project ends what its old buttons held and ran", "[page][speaker]") {
    Tried tried;
    Browser& browser = tried.browser;
    browser.run(
        "[...document.querySelectorAll('#triggers button')].find((button) => button.textContent === 'run').click();"
        "document.querySelector('[data-binding=\"7\"]').dispatchEvent(new KeyboardEvent('keydown', {code: 'Space'}))");
    CHECK(tried.happens("marker paddle+paddle"));
    CHECK(tried.happens("press lift: played lift"));
    std::string text = tried.read("bench/kiai.toml");
    text.replace(text.find("[sound.brush]"), 13, "[sound.brush]\npitch = 1");
    tried.write("bench/kiai.toml", text);
    CHECK(tried.happens("replaced the project"));
    CHECK(tried.happens("release lift: stopped what it held"));
    CHECK(browser.wait_for("waiting.length === 0 && !sending"));
    browser.run("document.getElementById('happened').replaceChildren()");
    std::this_thread::sleep_for(std::chrono::milliseconds(2500)); // longer than the motion
    CHECK(browser.run("return document.getElementById('happened').textContent.includes('marker paddle')") == false);
    CHECK(browser.errors() == std::vector<std::string>{});
}

TEST_CASE("A page that is closed holds nothing", "[page][speaker]") {
    Tried tried;
    tried.browser.run(
        "document.querySelector('[data-binding=\"7\"]').dispatchEvent(new KeyboardEvent('keydown', {code: 'Space'}))");
    CHECK(tried.happens("press lift: played lift"));
    tried.browser.go("about:blank");
    CHECK(read_events(tried.page->url() + "events", 15,
                      [](const json& event) { return event.at("state").at("plays").empty(); }));
}

TEST_CASE("Why, filter, repeats and ten plays", "[page][speaker]") {
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

TEST_CASE("The values of the last plays stand next to what is stated", "[page][speaker]") {
    Tried tried;
    Browser& browser = tried.browser;
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

TEST_CASE("A recording is drawn on the page, and expected by a click", "[page][speaker]") {
    Tried tried;
    Browser& browser = tried.browser;
    browser.press("#recording button");
    CHECK(browser.wait_for("recording.on"));
    browser.press("[data-zone=hopper] polygon");
    CHECK(tried.happens("press hopper: played hopper #1"));
    browser.press("#recording button");
    REQUIRE(browser.wait_for("document.querySelector('#recording-parts img')?.naturalWidth > 0"));
    browser.run(
        "document.querySelector('[aria-label=\"expect: hopper is heard within 20 ms of press hopper\"]').click()");
    CHECK(
        browser.wait_for("document.getElementById('recording-parts').textContent.includes('states 1: kiai rehearse')"));
    CHECK(tried.read("bench/traces/by-hand-1.expect.toml").find("heard = \"hopper\"") != std::string::npos);
    CHECK(browser.errors() == std::vector<std::string>{});
}

TEST_CASE("Two hundred sounds and two thousand clips are shown, and only those in view are drawn", "[page][speaker]") {
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
    constexpr std::size_t length = 240;
    std::size_t found = 0, parts = 10; // a busy machine may leave gaps
    for (int attempt = 0; attempt < 4 && found < parts / 2; ++attempt) {
        const Folder server;
        const Ran ran = run("KIAI_OUT='" + server.path().string() +
                            "' '" KIAI_SOURCE "/tests/output/with-sound-server' '" + server.path().string() +
                            "' '" KIAI_BINARY "/bin/kiai_tests' 'A page that is played by hand is recorded'");
        INFO(ran.out << ran.err);
        REQUIRE(ran.status == 0);
        const kiai::LoadedTrace trace = kiai::load_trace(server.path() / "bench/traces/by-hand-1.jsonl");
        REQUIRE(trace.ok());
        const kiai::Rehearsal meant = kiai::rehearse(kiai::load_project(demo()).project, trace.trace);
        const std::string bytes = server.read("recorded.raw");
        std::vector<float> samples(bytes.size() / 8 * 2);
        std::memcpy(samples.data(), bytes.data(), samples.size() * 4);
        const Signal left = side(samples, 0), expected = side(meant.samples, 0);
        found = parts = 0;
        for (std::size_t at = 0; at + length <= expected.size(); at += 10 * length) {
            if (rms(expected, at, at + length) < 0.01) continue; // too quiet to be distinguished
            ++parts;
            found += find_part(left, expected.data() + at, length) >= 0 ? 1 : 0;
        }
        UNSCOPED_INFO("attempt " << attempt + 1 << ": " << found << " of " << parts << " parts");
        REQUIRE(parts > 10);
    }
    CHECK(found >= parts / 2);
}

TEST_CASE("Nothing runs off the page at the sizes of a laptop and of a phone", "[page][speaker]") {
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

TEST_CASE("No text of a project becomes markup", "[page][speaker]") {
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
          "[page][speaker]") {
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
          "[page][speaker]") {
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

TEST_CASE("Layers, follows and LFOs are changed, added and removed on the page", "[page][speaker]") {
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

TEST_CASE("Zones are moved, drawn and removed on the stage, and bindings added and removed", "[page][speaker]") {
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
