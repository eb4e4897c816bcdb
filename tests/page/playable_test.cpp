// A report with the engine inside, and the example page, in a browser. scripts/ports runs these: they need the folder
// of kiai.wasm, in KIAI_WEB.
#include "support/browser.h"
#include "support/places.h"
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <kiai/engine.h>
#include <kiai/load.h>
#include <kiai/workshop/page.h>
#include <kiai/workshop/trace.h>

#include <httplib.h>

#include <catch2/catch.hpp>

#include <cstdlib>
#include <cstring>
#include <thread>

using namespace support;
namespace fs = std::filesystem;

namespace {

fs::path web_folder() {
    const char* const folder = std::getenv("KIAI_WEB");
    REQUIRE(folder);
    return folder;
}

/// Files for a browser, at an address of this machine.
class Served {
  public:
    explicit Served(const fs::path& folder) {
        server_.set_mount_point("/", folder.string());
        server_.set_file_extension_and_mimetype_mapping("wasm", "application/wasm");
        port_ = server_.bind_to_any_port("127.0.0.1");
        thread_ = std::thread([this] { server_.listen_after_bind(); });
    }
    ~Served() {
        server_.stop();
        thread_.join();
    }
    std::string url() const { return "http://127.0.0.1:" + std::to_string(port_) + "/"; }

  private:
    httplib::Server server_;
    int port_ = 0;
    std::thread thread_;
};

/// What a page recorded: a trace, and the samples that its audio thread gave to the browser.
struct Recorded {
    int rate = 0;
    kiai::Trace trace;
    std::vector<float> samples;
};

/// `kiai`: the expression of the engine on the page.
Recorded recorded(Browser& browser, const std::string& kiai, const Folder& folder) {
    browser.run("window.got = null; " + kiai +
                ".recording().then((all) => { const bytes = all.blocks.map((block) => "
                "String.fromCharCode(...new Uint8Array(block.buffer))); window.got = {rate: " +
                kiai + ".context.sampleRate, lines: all.lines, samples: btoa(bytes.join(''))}; })");
    REQUIRE(browser.wait_for("window.got !== null"));
    const auto got = browser.run("return window.got");
    Recorded recorded;
    recorded.rate = got["rate"];
    std::string lines = "{\"trace\":1,\"rate\":" + std::to_string(recorded.rate) + ",\"seed\":7}\n";
    for (const auto& line : got["lines"]) lines += line.dump() + '\n';
    folder.write("recorded.jsonl", lines);
    const kiai::LoadedTrace read = kiai::load_trace(folder.path() / "recorded.jsonl");
    for (const kiai::Finding& finding : read.findings) INFO(finding);
    REQUIRE(read.ok());
    recorded.trace = read.trace;
    const std::string bytes = bytes_of_base64(got["samples"]);
    recorded.samples.resize(bytes.size() / sizeof(float));
    std::memcpy(recorded.samples.data(), bytes.data(), recorded.samples.size() * sizeof(float));
    return recorded;
}

/// The same reports at the same frames, on this system.
std::vector<float> played_here(const kiai::Project& project, const Recorded& recorded) {
    kiai::Engine engine(project, {.sample_rate = recorded.rate, .seed = 7, .portable_kernels = true});
    engine.set_findings([](const kiai::Finding&) {});
    std::vector<float> samples;
    std::size_t next = 0;
    const auto& lines = recorded.trace.lines;
    while (samples.size() < recorded.samples.size()) {
        for (; next < lines.size() && lines[next].frame <= engine.now(); ++next) engine.report(lines[next].report);
        const std::vector<float> block = render(engine, 128);
        samples.insert(samples.end(), block.begin(), block.end());
    }
    CHECK(next == lines.size());
    return samples;
}

} // namespace

TEST_CASE("A playable report sounds as the rehearsal of what was done on it, sample for sample", "[.playable]") {
    const Folder folder;
    const fs::path page = folder.path() / "r.html";
    const Ran made = run("'" + tested_tool() + "' report '" + demo().string() + "' --playable --engine '" +
                         web_folder().string() + "' --seed 7 --out '" + page.string() + "'");
    INFO(made.err);
    REQUIRE(made.status == 0);
    CHECK(fs::file_size(page) < 3'000'000);
    Browser browser;
    browser.go("file://" + page.string());
    REQUIRE(browser.wait_for("playable.kiai !== null"));
    CHECK(browser.run("return document.getElementById('trouble').textContent") == "");
    CHECK(browser.run("return playable.kiai.findings").empty());
    browser.run("playable.kiai.record()");
    browser.press("[data-zone=lift] polygon", 700); // the first press starts the sound
    REQUIRE(browser.wait_for("document.getElementById('happened').textContent.includes('press lift: played lift')"));
    browser.run("report({dial: {'hopper-stock': 3}})");
    browser.press("[data-zone=hopper] polygon");
    browser.run("document.getElementById('stage').focus()");
    browser.keys("123");
    browser.press("[aria-label='play brush']");
    browser.run(
        "for (const line of [{notice: 'tray-emptied', values: {speed: 2, depth: 0.5}}, {stop: 'brush', fade: 0.1}, "
        "{'bus-gain': {pieces: -3}, over: 0.2}, {zone: 'hopper', to: [200, 200], scale: 2}, "
        "{press: [260, 200]}, {release: true}, {body: 4, kind: 'marble', to: [300, 300], radius: 9}, "
        "{'body-gone': 4}, {pause: {bus: 'pieces'}}, {resume: {everything: true}}, {'bus-mute': {pieces: false}}, "
        "{contact: ['marble', 'oak'], strength: 0.4, place: -0.5}]) report(line)");
    REQUIRE(
        browser.wait_for("document.getElementById('happened').textContent.includes('contact marble+oak: played oak')"));
    browser.run("window.done = false; setTimeout(() => { window.done = true }, 800)");
    REQUIRE(browser.wait_for("window.done"));
    CHECK(browser.run("return document.querySelector('[data-zone=oak-box]').classList.contains('off')") == true);
    CHECK(browser.errors().empty());

    const Recorded there = recorded(browser, "playable.kiai", folder);
    REQUIRE(there.samples.size() > static_cast<std::size_t>(there.rate));
    CHECK(peak(side(there.samples, 0)) > 0.1);
    const std::vector<float> here = played_here(kiai::load_project(demo()).project, there);
    const auto first = std::mismatch(here.begin(), here.end(), there.samples.begin(), there.samples.end());
    CHECK(first.first - here.begin() == static_cast<std::ptrdiff_t>(here.size()));
}

TEST_CASE("A page in a browser hears which of its reports are not understood", "[.playable]") {
    const Folder folder;
    const auto made = kiai::write_report(demo(), folder.path() / "r.html", {.engine = web_folder()});
    REQUIRE(made.error == "");
    Browser browser;
    browser.go("file://" + (folder.path() / "r.html").string());
    REQUIRE(browser.wait_for("playable.kiai !== null"));
    browser.run("window.said = []; console.warn = (text) => window.said.push(text)");
    browser.press("[data-zone=tray] polygon");
    browser.run("report({presss: [1, 2]}); report({play: 'oak', layer: 2})");
    CHECK(browser.wait_for("window.said.length === 2"));
    CHECK(browser.run("return window.said") ==
          nlohmann::json{"kiai: unknown report {\"presss\":[1,2]}",
                         "kiai: \"layer\" is not read here: {\"play\":\"oak\",\"layer\":2}"});
}

TEST_CASE("A tool that was installed with the engine for browsers finds it", "[.playable]") {
    const Folder folder;
    const std::string build = "'" + build_folder() + "'", web = web_folder().string(),
                      project = "prefix/share/kiai/marble-run";
    const Ran installed =
        run("cmake -DKIAI_WEB='" + web + "' " + build + " && cmake --install " + build +
                " --component tool --prefix prefix; status=$?; cmake -UKIAI_WEB " + build + " && exit $status",
            folder.path());
    INFO(installed.out << installed.err);
    REQUIRE(installed.status == 0);
    const std::string report = "prefix/bin/kiai report " + project + " --playable ";
    const Ran made =
        run(report + "--out own.html && " + report + "--out given.html --engine '" + web + "'", folder.path());
    INFO(made.err);
    REQUIRE(made.status == 0);
    CHECK(folder.read("own.html") == folder.read("given.html"));
    CHECK(fs::file_size(folder.path() / "own.html") > 1'500'000);
}

TEST_CASE("The example page of a browser plays its pack", "[.playable]") {
    const Folder folder;
    const Ran made = run("'" + source_folder() + "/scripts/web' '" + folder.path().string() + "'");
    INFO(made.err);
    REQUIRE(made.status == 0);
    CHECK(fs::file_size(folder.path() / "marble-run.kiai") < 1'000'000);
    const Served served(folder.path());
    Browser browser;
    browser.go(served.url());
    REQUIRE(browser.wait_for("document.getElementById('state').textContent.startsWith('Press the hopper')"));
    browser.press("#bench circle");
    CHECK(browser.wait_for("document.getElementById('decisions').textContent.includes('press hopper: played hopper')"));
    CHECK(browser.wait_for(
        "document.getElementById('decisions').textContent.includes('contact marble+oak: played oak')"));
    browser.keys("t");
    CHECK(browser.wait_for("document.getElementById('decisions').textContent.includes('key-down KeyT: played groan')"));
    CHECK(browser.errors().empty());
}

TEST_CASE("A playable report of a project from a stranger shows its names as texts", "[.playable]") {
    const ProjectFolder folder("name = \"</script><script>window.wrong = 1</script>\"\n[clip]\noak = \"oak.wav\"\n"
                               "[sound.oak]\ntakes = [\"oak\"]\n"
                               "[zone.bench]\nrectangle = { x = 0, y = 0, width = 100, height = 100 }\n"
                               "[[binding]]\ntrigger = { press = \"bench\" }\naction = { play = \"oak\" }\n");
    folder.write("oak.wav", wav_bytes(noise(0.3, 24000, 1)));
    const auto made = kiai::write_report(folder.path(), folder.path() / "r.html", {.engine = web_folder()});
    REQUIRE(made.error == "");
    Browser browser;
    browser.go("file://" + (folder.path() / "r.html").string());
    REQUIRE(browser.wait_for("playable.kiai !== null"));
    browser.press("[data-zone=bench] polygon");
    CHECK(browser.wait_for("document.getElementById('happened').textContent.includes('press bench: played oak')"));
    CHECK(browser.run("return window.wrong === undefined") == true);
}
