// The page of a project and of a running app: who reaches it, what it answers, what it does.
#include "support/http.h"
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <kiai/workshop/page.h>
#include <kiai/workshop/rehearse.h>
#include <kiai/workshop/trace.h>

#include <catch2/catch.hpp>

#include <arpa/inet.h>
#include <chrono>
#include <fstream>
#include <netinet/in.h>
#include <sys/socket.h>
#include <thread>
#include <unistd.h>

using namespace support;
using nlohmann::json;
using namespace std::chrono_literals;
namespace fs = std::filesystem;

namespace {

/// The demo in a folder of its own, and its page.
struct Tried : Folder {
    Tried() { fs::copy(demo(), path() / "bench", fs::copy_options::recursive); }
    const fs::path bench = path() / "bench";
};

int port_of(const std::string& url) {
    return std::stoi(url.substr(url.find(':', 6) + 1));
}

/// Waits for a decision of which the test says that it is the one.
bool decided(const std::string& url, const std::function<bool(const json&)>& it, double seconds = 15) {
    return read_events(url + "events", seconds, [&](const json& event) {
        for (const json& decision : event.at("decisions"))
            if (it(decision)) return true;
        return false;
    });
}

/// An engine that renders without a device, and its page.
struct Running {
    explicit Running(const kiai::Project& project, const kiai::PageSettings& settings = {})
        : engine(project, {.seed = 1}), page(engine, settings) {
        engine.set_log({});
    }
    void render(int blocks) {
        std::vector<float> out(1024);
        for (int i = 0; i < blocks; ++i) engine.render(out);
        engine.poll();
    }
    kiai::Engine engine;
    kiai::Page page;
};

} // namespace

TEST_CASE("A page answers only who knows its key and calls it by its own address", "[page][speaker]") {
    const Tried tried;
    const kiai::TryPage page(tried.bench);
    REQUIRE(page.error() == "");
    const std::string url = page.url(), root = url.substr(0, url.find('/', 8) + 1);
    const std::string host = root.substr(7, root.size() - 8);
    CHECK(get(url).status == 200);
    CHECK(get(url + "project").status == 200);
    CHECK(post(url + "report", "{\"at\": 0, \"key-down\": \"KeyT\"}").status == 200);
    for (const std::string& path :
         {std::string(), std::string("project"), std::string(32, '0') + "/project",
          url.substr(root.size(), 31) + "/project", url.substr(root.size(), 32), std::string("../project")}) {
        INFO(path);
        CHECK(get(root + path).status == 403);
        CHECK(post(root + path, "{}").status == 403);
    }
    const std::pair<std::string, std::string> strangers[] = {
        {"Host", "example.org"},          {"Host", "127.0.0.1:1"},
        {"Origin", "http://example.org"}, {"Origin", "null"},
        {"Origin", "https://" + host},    {"Origin", "http://localhost:" + std::to_string(port_of(url))}};
    for (const auto& [name, value] : strangers) {
        INFO(name << ": " << value);
        CHECK(get(url + "project", {{name, value}}).status == 403);
        CHECK(post(url + "report", "{\"at\": 0, \"release\": true}", {{name, value}}).status == 403);
    }
    CHECK(get(url + "project", {{"Origin", "http://" + host}}).status == 200);
    const kiai::TryPage other(tried.bench);
    CHECK(other.url().substr(other.url().size() - 33) != url.substr(url.size() - 33));
}

TEST_CASE("A page listens on loopback alone, and forbids everything from elsewhere", "[page][speaker]") {
    const Tried tried;
    const kiai::TryPage page(tried.bench);
    std::ifstream table("/proc/net/tcp");
    char port[8];
    std::snprintf(port, sizeof port, ":%04X", static_cast<unsigned>(port_of(page.url())));
    std::set<std::string> addresses;
    for (std::string line; std::getline(table, line);)
        if (const std::size_t at = line.find(port); at != std::string::npos && at < 20 && line.find(" 0A ") < 40)
            addresses.insert(line.substr(at - 8, 8));
    CHECK(addresses == std::set<std::string>{"0100007F"});
    const Reply reply = get(page.url());
    CHECK(reply.headers.at("Content-Security-Policy").find("default-src 'none'") == 0);
    CHECK(reply.headers.at("Content-Security-Policy").find("unsafe") == std::string::npos);
    CHECK(reply.headers.at("Referrer-Policy") == "no-referrer");
    CHECK(reply.headers.at("X-Content-Type-Options") == "nosniff");
    CHECK(reply.headers.count("Access-Control-Allow-Origin") == 0);
    CHECK(reply.body.find("//") == reply.body.npos); // no address of another server, no script of its own
}

TEST_CASE("A taken port is an error, and the page says so", "[page][speaker]") {
    const Tried tried;
    const kiai::TryPage first(tried.bench);
    const kiai::TryPage second(tried.bench, {.port = port_of(first.url())});
    CHECK(second.error() == "port " + std::to_string(port_of(first.url())) + " of this machine is taken");
    CHECK(second.url() == "");
    const Ran ran = kiai_tool("try bench --no-browser --port " + std::to_string(port_of(first.url())), tried.path());
    CHECK(ran.status == 1);
    CHECK(ran.err.find("is taken; choose another one with --port") != std::string::npos);
}

TEST_CASE("Requests that make no sense are refused, and the page answers on", "[page][speaker]") {
    const Tried tried;
    const kiai::TryPage page(tried.bench);
    const std::string url = page.url();
    CHECK(get(url + "nothing").status == 404);
    CHECK(get(url + "clip?name=../../../../etc/passwd").status == 404);
    CHECK(get(url + "clip?name=kiai.toml").status == 404);
    CHECK(get(url + "clip").status == 404);
    CHECK(get(url + "over.png").status == 404);
    CHECK(get(url + "../kiai.toml").status != 200);
    for (const char* body :
         {"{\"at\": 0, \"press\": [1", "[]", "\xff\xfe", "{\"at\": 0}", "{\"at\": -1, \"release\": true}",
          "{\"at\": 0, \"pres\": [1, 2]}", "{\"at\": 0, \"dial\": {\"fill\": \"much\"}}"}) {
        INFO(body);
        const Reply reply = post(url + "report", body);
        CHECK(reply.status == 400);
        CHECK_FALSE(reply.json().at("message").get<std::string>().empty());
        CHECK_FALSE(reply.json().at("fix").get<std::string>().empty());
    }
    for (const char* number : {"0", "-1", "25", "1e30", "nan", "x", ""})
        CHECK(post(url + "fire?binding=" + number).status == 400);
    CHECK(post(url + "report", std::string(3 << 20, ' ')).status != 200);
    CHECK(get(url + "why?about=").status == 200);
    CHECK(get(url + "project").status == 200);
}

TEST_CASE("Each binding of the demo happens by hand", "[page][speaker]") {
    const Tried tried;
    const kiai::TryPage page(tried.bench, {.seed = 1});
    const std::string url = page.url();
    const json project = get(url + "project").json();
    REQUIRE(project.at("bindings").size() == 24);
    for (const json& binding : project.at("bindings")) {
        const int number = binding.at("number").get<int>();
        INFO(binding.dump());
        CHECK(binding.at("by_hand") == true);
        REQUIRE(post(url + "fire?binding=" + std::to_string(number)).status == 200);
        CHECK(decided(url, [&](const json& decision) { return decision.value("binding", 0) == number; }));
        CHECK(post(url + "fire?binding=" + std::to_string(number) + "&end=1").status == 200);
    }
    // What is held ends with its trigger.
    CHECK(decided(url, [](const json& decision) {
        return decision.value("sound", "") == "lift" && decision.at("decision") == "ended";
    }));
}

TEST_CASE("A second time works as the first", "[page][speaker]") {
    const Tried tried;
    const kiai::TryPage page(tried.bench, {.seed = 1});
    const std::string url = page.url();
    for (const int number : {1, 12, 17, 7}) // a press, a contact, a watch, a hold
        for (int time = 1; time <= 3; ++time) {
            REQUIRE(post(url + "fire?binding=" + std::to_string(number) + "&strength=0.8").status == 200);
            std::this_thread::sleep_for(250ms);
            post(url + "fire?binding=" + std::to_string(number) + "&end=1");
            std::this_thread::sleep_for(100ms);
        }
    std::map<int, int> played;
    decided(
        url,
        [&](const json& decision) {
            if (decision.at("decision") == "played") ++played[decision.value("binding", 0)];
            return false;
        },
        0.5);
    CHECK(played[1] == 3);
    CHECK(played[12] == 3);
    CHECK(played[7] == 3);
    CHECK(played[17] >= 1); // `warning` plays once at a time
}

TEST_CASE("What was done by hand is recorded, and its rehearsal decides the same", "[page][speaker]") {
    const Tried tried;
    const kiai::TryPage page(tried.bench, {.seed = 7});
    const std::string url = page.url();
    REQUIRE(post(url + "record?on=1").status == 200);
    const char* const reports[] = {
        "{\"at\":0,\"pointer\":[118,82]}\n{\"at\":0,\"press\":[118,82]}\n{\"at\":0.05,\"release\":true}",
        "{\"at\":0,\"key-down\":\"KeyT\"}",
        "{\"at\":0,\"key-up\":\"KeyT\"}",
        "{\"at\":0,\"dial\":{\"fill\":0.9}}",
        "{\"at\":0,\"contact\":[\"marble\",\"glass\"],\"strength\":0.4}",
        "{\"at\":0,\"scope-enter\":\"drawer\"}",
        "{\"at\":0,\"notice\":\"tray-emptied\"}",
        "{\"at\":0,\"play\":\"oak\"}"};
    for (const char* lines : reports) {
        REQUIRE(post(url + "report", lines).status == 200);
        std::this_thread::sleep_for(120ms);
    }
    std::this_thread::sleep_for(1500ms);
    const Reply stopped = post(url + "record?on=0");
    REQUIRE(stopped.status == 200);
    CHECK(stopped.json().at("file") == "traces/by-hand-1.jsonl");

    using Play = std::tuple<std::string, std::string, std::string>;
    std::vector<Play> live, again;
    decided(
        url,
        [&](const json& decision) {
            if (decision.at("decision") == "played")
                live.emplace_back(decision.at("trigger"), decision.at("sound"), decision.at("layers").dump());
            return false;
        },
        0.4);
    const kiai::LoadResult loaded = kiai::load_project(tried.bench);
    const kiai::LoadedTrace trace = kiai::load_trace(tried.bench / "traces/by-hand-1.jsonl");
    REQUIRE(trace.ok());
    const kiai::Rehearsal rehearsal = kiai::rehearse(loaded.project, trace.trace);
    std::ostringstream log;
    kiai::write_log(log, rehearsal);
    std::istringstream lines(log.str());
    for (std::string line; std::getline(lines, line);) {
        const json decision = json::parse(line);
        if (decision.value("decision", "") == "played")
            again.emplace_back(decision.at("trigger"), decision.at("sound"), decision.at("layers").dump());
    }
    CHECK(live.size() >= 6);
    CHECK(live == again);
    // Another recording does not replace the first.
    post(url + "record?on=1");
    CHECK(post(url + "record?on=0").json().at("file") == "traces/by-hand-2.jsonl");
}

TEST_CASE("A change of kiai.toml is heard at the next trigger, and an error is shown while the old project plays",
          "[page][speaker]") {
    const Tried tried;
    const kiai::TryPage page(tried.bench, {.seed = 1});
    const std::string url = page.url();
    const std::string before = tried.read("bench/kiai.toml");
    const auto revision = get(url + "project").json().at("revision").get<int>();
    const auto next_revision = [&](int than) {
        int found = 0;
        CHECK(read_events(url + "events", 8,
                          [&](const json& event) { return (found = event.at("revision").get<int>()) > than; }));
        return found;
    };
    std::string changed = before;
    changed.replace(changed.find("[sound.brush]"), 13, "[sound.brush]\npitch = 7");
    tried.write("bench/kiai.toml", changed);
    next_revision(revision);
    REQUIRE(post(url + "fire?binding=8").status == 200);
    CHECK(decided(url, [](const json& decision) {
        return decision.at("decision") == "played" && decision.value("sound", "") == "brush" &&
               decision.at("layers")[0].at("pitch").get<double>() > 4;
    }));
    tried.write("bench/kiai.toml", before + "\n[sound.nothing]\ntakes = [\"missing\"]\n");
    bool shown = false;
    for (int i = 0; i < 100 && !shown; ++i) {
        std::this_thread::sleep_for(50ms);
        const json findings = get(url + "project").json().at("findings");
        for (const json& finding : findings)
            shown = shown || finding.at("message").get<std::string>().find("missing") != std::string::npos;
    }
    CHECK(shown);
    CHECK(post(url + "fire?binding=3").status == 200);
    CHECK(decided(url, [](const json& decision) { return decision.value("binding", 0) == 3; }));
}

TEST_CASE("Why something is silent is answered from what happened on the page", "[page][speaker]") {
    const Tried tried;
    const kiai::TryPage page(tried.bench, {.seed = 1});
    const std::string url = page.url();
    const json unheard = get(url + "why?about=press%20hopper").json();
    CHECK(unheard.at("heard") == false);
    CHECK(unheard.at("chain").back().at("link") == "triggered");
    post(url + "fire?binding=1");
    CHECK(decided(url, [](const json& decision) {
        return decision.value("sound", "") == "hopper" && decision.at("decision") == "ended";
    }));
    CHECK(get(url + "why?about=press%20hopper").json().at("heard") == true);
    post(url + "report", "{\"at\":0,\"dial\":{\"hopper-stock\":0}}\n{\"at\":0.05,\"press\":[118,82]}");
    CHECK(decided(url, [](const json& decision) { return decision.at("decision") == "not-met"; }));
}

TEST_CASE("Waveforms, tables and levels are those of the project", "[page][speaker]") {
    const Tried tried;
    const kiai::TryPage page(tried.bench);
    const std::string url = page.url();
    const json clip = get(url + "clip?name=motor").json();
    CHECK(clip.at("columns").size() == 240);
    CHECK(clip.at("seconds") == 2.3);
    CHECK(get(url + "clip?name=motor").json() == clip);
    const json project = get(url + "project").json();
    CHECK(project.at("name") == "marble-run");
    std::map<std::string, int> kinds;
    for (const json& entry : project.at("entries")) ++kinds[entry.at("kind").get<std::string>()];
    CHECK(kinds["clip"] == 42);
    CHECK(kinds["binding"] == 24);
    CHECK(project.at("zones").size() == 10);
    CHECK(project.at("zones").front().at("name") == "bench"); // from back to front
    post(url + "fire?binding=7");
    CHECK(read_events(url + "events", 4, [](const json& event) {
        const json& buses = event.at("state").at("buses");
        return buses.size() == 3 && buses[0].at("peak").get<double>() > 0.05 && !event.at("levels").empty() &&
               event.at("state").at("plays").size() == 1;
    }));
}

TEST_CASE("A page of a running app only watches, unless the app allows more", "[page][speaker]") {
    const kiai::Project project = kiai::load_project(demo()).project;
    Running watched(project);
    const std::string url = watched.page.url();
    REQUIRE(watched.page.error() == "");
    CHECK(get(url + "project").json().at("reports") == false);
    for (const char* path : {"report", "fire?binding=1", "record?on=1"}) {
        const Reply reply = post(url + path, "{\"at\":0,\"key-down\":\"KeyT\"}");
        CHECK(reply.status == 403);
        CHECK(reply.json().at("message") == "this page only watches");
    }
    watched.engine.key_down("KeyT");
    watched.render(4);
    CHECK(decided(url, [](const json& decision) { return decision.value("sound", "") == "groan"; }));

    Running allowed(project, {.reports = true});
    CHECK(post(allowed.page.url() + "report", "{\"at\":0,\"key-down\":\"KeyT\"}").status == 200);
    allowed.render(4);
    CHECK(decided(allowed.page.url(), [](const json& decision) { return decision.value("sound", "") == "groan"; }));
    CHECK(post(allowed.page.url() + "record?on=1").status == 404);
}

TEST_CASE("A flood of decisions is thinned on the page, and counted", "[page][speaker]") {
    Running running(kiai::load_project(demo()).project);
    const std::string url = running.page.url();
    std::uint64_t shown = 0, left_out = 0;
    int events = 0;
    std::thread app([&] {
        std::this_thread::sleep_for(300ms);
        for (int i = 0; i < 100; ++i) {
            for (int j = 0; j < 100; ++j) running.engine.notice("nobody");
            running.render(1);
        }
    });
    read_events(url + "events", 4, [&](const json& event) {
        shown += event.at("decisions").size();
        left_out += event.at("left_out").get<std::uint64_t>();
        CHECK(event.at("decisions").size() <= 40);
        return ++events > 1 && shown + left_out > 10000;
    });
    app.join();
    CHECK(shown + left_out > 10000);
    CHECK(left_out > 5000);
}

TEST_CASE("A page that is not read holds nothing up", "[page][speaker]") {
    Running running(kiai::load_project(demo()).project);
    const std::string url = running.page.url();
    const int port = port_of(url);
    const int socket_of_page = socket(AF_INET, SOCK_STREAM, 0);
    sockaddr_in to{};
    to.sin_family = AF_INET;
    to.sin_port = htons(static_cast<std::uint16_t>(port));
    to.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
    REQUIRE(connect(socket_of_page, reinterpret_cast<const sockaddr*>(&to), sizeof to) == 0);
    const std::string ask = "GET " + url.substr(url.find('/', 8)) +
                            "events HTTP/1.1\r\nHost: 127.0.0.1:" + std::to_string(port) + "\r\n\r\n";
    REQUIRE(write(socket_of_page, ask.data(), ask.size()) == static_cast<ssize_t>(ask.size()));
    for (int i = 0; i < 300; ++i) { // more than the buffers of a connection take
        for (int j = 0; j < 100; ++j) running.engine.notice("nobody");
        running.render(1);
        std::this_thread::sleep_for(2ms);
    }
    CHECK(running.engine.now() == 300 * 512);
    CHECK(get(url + "project").status == 200);
    running.engine.key_down("KeyT");
    running.render(4);
    CHECK(decided(url, [](const json& decision) { return decision.value("sound", "") == "groan"; }));
    close(socket_of_page);
}

TEST_CASE("Only so many pages may be open at once, and a closed one makes room", "[page][speaker]") {
    Running running(kiai::load_project(demo()).project);
    const std::string url = running.page.url() + "events";
    std::atomic<bool> close = false;
    std::vector<std::thread> open;
    std::atomic<int> reading = 0;
    for (int i = 0; i < 8; ++i)
        open.emplace_back([&] {
            read_events(url, 20, [&, first = true](const json&) mutable {
                if (std::exchange(first, false)) ++reading;
                return close.load();
            });
        });
    for (int i = 0; i < 200 && reading < 8; ++i) std::this_thread::sleep_for(20ms);
    CHECK(reading == 8);
    CHECK(get(url).status == 503);
    close = true;
    for (std::thread& thread : open) thread.join();
    bool again = false;
    for (int i = 0; i < 100 && !again; ++i) { // the server notices with its next event
        again = read_events(url, 1, [](const json&) { return true; });
        std::this_thread::sleep_for(50ms);
    }
    CHECK(again);
}

TEST_CASE("An engine continues after its page was closed while somebody looked", "[page][speaker]") {
    const kiai::Project project = kiai::load_project(demo()).project;
    kiai::Engine engine(project, {.seed = 1});
    engine.set_log({});
    std::vector<float> out(1024);
    for (int i = 0; i < 5; ++i) {
        auto page = std::make_unique<kiai::Page>(engine);
        std::thread looks([url = page->url()] { read_events(url + "events", 3, [](const json&) { return false; }); });
        std::this_thread::sleep_for(60ms);
        engine.key_tap("KeyT");
        engine.render(out);
        engine.poll();
        page = nullptr;
        looks.join();
        engine.key_tap("KeyT");
        engine.render(out);
        engine.poll();
    }
    CHECK(engine.now() == 10 * 512);
}

TEST_CASE("A second log sink hears what the first hears, until its handle goes", "[page][speaker]") {
    kiai::Engine engine(kiai::load_project(demo()).project, {.seed = 1});
    std::vector<kiai::Outcome> first, second;
    engine.set_log([&](const kiai::Decision& decision) { first.push_back(decision.outcome); });
    auto handle = engine.add_log([&](const kiai::Decision& decision) { second.push_back(decision.outcome); });
    const auto throws = engine.add_log([](const kiai::Decision&) { throw std::runtime_error("no"); });
    engine.set_findings([](const kiai::Finding&) {});
    std::vector<float> out(1024);
    engine.key_tap("KeyT");
    engine.render(out), engine.poll();
    CHECK(first.size() >= 2);
    CHECK(first == second);
    handle = nullptr;
    engine.key_tap("KeyT");
    engine.render(out), engine.poll();
    CHECK(first.size() > second.size());
}

namespace {

/// As a browser writes a value in an address.
std::string encoded(const std::string& value) {
    std::string text;
    char two[4];
    for (const char c : value) {
        std::snprintf(two, sizeof two, "%%%02X", static_cast<unsigned>(static_cast<unsigned char>(c)));
        text += std::isalnum(static_cast<unsigned char>(c)) ? std::string(1, c) : std::string(two);
    }
    return text;
}

/// The page of the demo with editing, as a page in a browser uses it.
struct Changed : Tried {
    kiai::TryPage page{bench, {.seed = 1, .edit = true}};
    const std::string url = page.url();
    std::string text = get(url + "project").json().at("text");

    std::string toml() const { return read("bench/kiai.toml"); }
    Reply send(const std::string& path, const std::string& query, const std::string& body) {
        Reply reply = post(url + path + "?text=" + text + query, body);
        if (reply.status == 200) text = reply.json().at("text");
        return reply;
    }
    Reply set(const std::string& place, const std::string& value) {
        return send("edit", "&value=" + encoded(value), place);
    }
};

} // namespace

TEST_CASE("A change on the page edits kiai.toml in place, is heard, and is undone", "[page][speaker]") {
    Changed changed;
    const std::string before = changed.toml();
    const Reply reply = changed.set("sound\nbrush\npitch", "7");
    REQUIRE(reply.status == 200);
    CHECK(reply.json().at("changes")[0].at("after") == "pitch = 7");
    CHECK(reply.json().at("steps") == 1);
    CHECK(changed.toml().size() == before.size() + std::string("pitch = 7\n").size());
    bool heard = false;
    for (int i = 0; i < 40 && !heard; ++i) { // the files are watched
        std::this_thread::sleep_for(100ms);
        post(changed.url + "fire?binding=8");
        post(changed.url + "fire?binding=8&end=1");
        heard = decided(
            changed.url,
            [](const json& decision) {
                return decision.at("decision") == "played" && decision.value("sound", "") == "brush" &&
                       decision.at("layers")[0].at("pitch").get<double>() > 4;
            },
            0.3);
    }
    CHECK(heard);
    REQUIRE(changed.set("sound\noak\nvary\ngain", "[-1, 4]").status == 200);
    REQUIRE(changed.set("zone\ntray\nrectangle", "{ x = 200, y = 500, width = 240, height = 50 }").status == 200);
    REQUIRE(changed.send("bind", "", "press funnel play glass").status == 200);
    CHECK(changed.toml().find("press = \"glass\"") != std::string::npos);
    REQUIRE(changed.set("zone\nknob\ncircle", "{ x = 10, y = 20, r = 5 }").status == 200);
    CHECK(changed.toml().find("[zone.knob]\ncircle = { x = 10, y = 20, r = 5 }") != std::string::npos);
    REQUIRE(changed.send("remove", "&name=knob", "").status == 200);
    CHECK(changed.toml().find("knob") == std::string::npos);
    REQUIRE(changed.send("unbind", "", "3").status == 200);
    CHECK(changed.toml().find("# ") != std::string::npos);
    for (int i = 0; i < 7; ++i) REQUIRE(changed.send("undo", "", "").status == 200);
    CHECK(changed.toml() == before);
    CHECK(changed.send("undo", "", "").status == 409);
}

TEST_CASE("A change for another text of kiai.toml is refused, and nothing is lost", "[page][speaker]") {
    Changed changed;
    const std::string before = changed.toml(), by_hand = "# written by hand\n" + before;
    changed.write("bench/kiai.toml", by_hand);
    const Reply conflict = changed.set("sound\noak\ngain", "-3");
    CHECK(conflict.status == 409);
    CHECK(conflict.json().at("message").get<std::string>().find("has changed on disk") != std::string::npos);
    CHECK(changed.toml() == by_hand);
    std::string text = changed.text;
    for (int i = 0; i < 60 && text == changed.text; ++i) {
        std::this_thread::sleep_for(50ms);
        text = get(changed.url + "project").json().at("text");
    }
    changed.text = text;
    CHECK(changed.set("sound\noak\ngain", "-3").status == 200);
    CHECK(changed.toml().starts_with("# written by hand\n"));
    changed.write("bench/kiai.toml", changed.toml() + "# more\n");
    CHECK(changed.send("undo", "", "").status == 409);
    CHECK(changed.toml().ends_with("# more\n"));
}

TEST_CASE("A wrong value is refused with its reason, and kiai.toml stays as it was", "[page][speaker]") {
    Changed changed;
    const std::string before = changed.toml();
    const std::pair<const char*, const char*> wrong[] = {{"sound\noak\ngain", "30"},
                                                         {"sound\noak\ngain", "loud"},
                                                         {"sound\noak\ngian", "3"},
                                                         {"sound\noak\nbus", "\"nowhere\""},
                                                         {"sound\noak\ngain", "1\n[sound.more]"},
                                                         {"sound\noak\ngain", "1 #"},
                                                         {"zone\ntray\nrectangle", "{ x = 1 }"},
                                                         {"gain", "1"},
                                                         {"", "1"},
                                                         {"sound\noak\nfollow\n9\ncurve", "[[0, 0], [1, 1]]"},
                                                         {"zone\nA%20B\ncircle", "{ x = 1, y = 2, r = 3 }"}};
    for (const auto& [place, value] : wrong) {
        INFO(place << " = " << value);
        const Reply reply = changed.set(place, value);
        CHECK(reply.status == 400);
        CHECK_FALSE(reply.json().at("message").get<std::string>().empty());
        CHECK(changed.toml() == before);
    }
    for (const char* words : {"press nowhere play oak", "jump hopper play oak", "press"})
        CHECK(changed.send("bind", "", words).status == 400);
    CHECK(changed.send("remove", "&name=hopper", "").status == 400); // a binding needs it
    CHECK(changed.toml() == before);
}

TEST_CASE("Without editing the page writes nothing", "[page][speaker]") {
    const Tried tried;
    const kiai::TryPage page(tried.bench);
    const std::string before = tried.read("bench/kiai.toml");
    CHECK_FALSE(get(page.url() + "project").json().contains("toml"));
    for (const char* path : {"edit?value=1", "bind", "unbind", "remove?name=tray", "undo"})
        CHECK(post(page.url() + path, "sound\noak\ngain").status == 404);
    CHECK(tried.read("bench/kiai.toml") == before);
}
