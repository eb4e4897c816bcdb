// The page of a running app.
#include "page/tried.h"

#include <catch2/catch.hpp>

#include <arpa/inet.h>
#include <atomic>
#include <netinet/in.h>
#include <sys/socket.h>
#include <thread>
#include <unistd.h>

using namespace support;
using nlohmann::json;
using namespace std::chrono_literals;

namespace {

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
        CHECK(event.at("decisions").size() <= (events == 0 ? 300 : 40));
        return ++events > 1 && shown + left_out > 10000;
    });
    app.join();
    CHECK(shown + left_out > 10000);
    CHECK(left_out > 5000);
}

TEST_CASE("A page that opens late shows what was decided before", "[page][speaker]") {
    Running running(kiai::load_project(demo()).project);
    for (int i = 0; i < 120; ++i) running.engine.notice("nobody");
    running.render(4);
    std::size_t shown = 0;
    read_events(running.page.url() + "events", 4, [&](const json& event) {
        shown = event.at("decisions").size();
        return true;
    });
    CHECK(shown >= 120);
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
