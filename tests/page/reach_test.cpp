// Who reaches a page, and what it answers to nonsense.
#include "page/tried.h"

#include <catch2/catch.hpp>

#include <fstream>
#include <set>

using namespace support;
using nlohmann::json;
using namespace std::chrono_literals;

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
