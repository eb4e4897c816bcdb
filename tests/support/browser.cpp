#include "support/browser.h"

#include "support/http.h"

#include <catch2/catch.hpp>
#include <httplib.h>

#include <arpa/inet.h>
#include <chrono>
#include <csignal>
#include <fcntl.h>
#include <fstream>
#include <netinet/in.h>
#include <spawn.h>
#include <sys/socket.h>
#include <sys/wait.h>
#include <thread>
#include <unistd.h>

extern char** environ;

namespace support {
namespace {

using nlohmann::json;
using namespace std::chrono_literals;

int free_port() {
    const int probe = socket(AF_INET, SOCK_STREAM, 0);
    sockaddr_in address{};
    address.sin_family = AF_INET;
    address.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
    socklen_t size = sizeof address;
    REQUIRE(bind(probe, reinterpret_cast<sockaddr*>(&address), size) == 0);
    REQUIRE(getsockname(probe, reinterpret_cast<sockaddr*>(&address), &size) == 0);
    close(probe);
    return ntohs(address.sin_port);
}

} // namespace

std::string bytes_of_base64(const std::string& text) {
    std::string bytes;
    unsigned bits = 0, count = 0;
    for (const char c : text) {
        const char* const letters = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
        const auto value = std::string_view(letters).find(c);
        if (value == std::string_view::npos) continue;
        bits = bits << 6 | static_cast<unsigned>(value);
        if ((count += 6) >= 8) bytes += static_cast<char>(bits >> (count -= 8) & 0xff);
    }
    return bytes;
}

BrowserDriver::BrowserDriver() : port_(free_port()) {
    std::string program = "chromedriver", port = "--port=" + std::to_string(port_);
    char* const words[] = {program.data(), port.data(), nullptr};
    posix_spawn_file_actions_t files;
    posix_spawn_file_actions_init(&files);
    posix_spawn_file_actions_addopen(&files, 1, "/dev/null", O_WRONLY, 0);
    posix_spawn_file_actions_addopen(&files, 2, "/dev/null", O_WRONLY, 0);
    const int failed = posix_spawnp(&process_, program.c_str(), &files, nullptr, words, environ);
    posix_spawn_file_actions_destroy(&files);
    INFO("chromedriver comes with the packages of scripts/packages.txt");
    REQUIRE(failed == 0);
    const std::string status = "http://127.0.0.1:" + std::to_string(port_) + "/status";
    for (int tries = 0; tries < 200 && get(status).status != 200; ++tries) std::this_thread::sleep_for(50ms);
}

BrowserDriver::~BrowserDriver() {
    kill(process_, SIGTERM);
    waitpid(process_, nullptr, 0);
}

Browser::Browser(int width, int height) {
    const json arguments{"--headless=new",
                         "--no-sandbox",
                         "--disable-gpu",
                         "--hide-scrollbars",
                         "--force-device-scale-factor=1",
                         "--disable-background-networking",
                         "--no-first-run",
                         "--disable-component-update",
                         "--disable-sync",
                         "--disable-dev-shm-usage"};
    const json options{{"goog:chromeOptions", {{"args", arguments}}}, {"goog:loggingPrefs", {{"browser", "ALL"}}}};
    session_ =
        "/session/" +
        ask("POST", "/session", {{"capabilities", {{"alwaysMatch", options}}}}).at("sessionId").get<std::string>();
    resize(width, height);
}

Browser::~Browser() {
    httplib::Client client("127.0.0.1", driver_.port());
    client.Delete(session_);
}

json Browser::ask(const char* method, const std::string& path, const json& body) {
    httplib::Client client("127.0.0.1", driver_.port());
    client.set_read_timeout(60);
    const auto result =
        std::string_view(method) == "GET" ? client.Get(path) : client.Post(path, body.dump(), "application/json");
    REQUIRE(result);
    const json answer = json::parse(result->body);
    INFO(path << ": " << result->body.substr(0, 400));
    REQUIRE(result->status == 200);
    return answer.at("value");
}

void Browser::resize(int width, int height) {
    int outer = height; // of the window, with its frame
    for (int tries = 0; tries < 60; ++tries) {
        ask("POST", session_ + "/window/rect", {{"width", width}, {"height", outer}});
        std::this_thread::sleep_for(30ms); // a new size takes effect a little later
        const int inner = run("return window.innerHeight").get<int>();
        if (inner == height) return;
        outer += height - inner;
    }
    FAIL("the browser's window cannot be resized");
}

void Browser::go(const std::string& url) {
    ask("POST", session_ + "/url", {{"url", url}});
}

json Browser::run(const std::string& script) {
    return ask("POST", session_ + "/execute/sync", {{"script", script}, {"args", json::array()}});
}

bool Browser::wait_for(const std::string& expression, double seconds) {
    const auto end = std::chrono::steady_clock::now() + std::chrono::duration<double>(seconds);
    do {
        if (run("return Boolean(" + expression + ")").get<bool>()) return true;
        std::this_thread::sleep_for(30ms);
    } while (std::chrono::steady_clock::now() < end);
    return false;
}

void Browser::act(const json& actions) {
    ask("POST", session_ + "/actions", {{"actions", actions}});
}

void Browser::press(const std::string& selector, int milliseconds) {
    const json place = run("const e = document.querySelector(" + json(selector).dump() +
                           "); e.scrollIntoView({block: 'nearest'}); const r = e.getBoundingClientRect(); "
                           "return [Math.round(r.x + r.width / 2), Math.round(r.y + r.height / 2)]");
    act({{{"type", "pointer"},
          {"id", "mouse"},
          {"parameters", {{"pointerType", "mouse"}}},
          {"actions",
           {{{"type", "pointerMove"}, {"duration", 0}, {"x", place[0]}, {"y", place[1]}},
            {{"type", "pointerDown"}, {"button", 0}},
            {{"type", "pause"}, {"duration", milliseconds}},
            {{"type", "pointerUp"}, {"button", 0}}}}}});
}

void Browser::keys(const std::string& text) {
    json strokes = json::array();
    for (std::size_t i = 0; i < text.size();) {
        const auto lead = static_cast<unsigned char>(text[i]);
        const std::size_t length = lead < 0x80 ? 1 : lead < 0xe0 ? 2 : lead < 0xf0 ? 3 : 4;
        const std::string key = text.substr(i, length);
        strokes.push_back({{"type", "keyDown"}, {"value", key}});
        strokes.push_back({{"type", "pause"}, {"duration", 60}});
        strokes.push_back({{"type", "keyUp"}, {"value", key}});
        i += length;
    }
    act({{{"type", "key"}, {"id", "keyboard"}, {"actions", strokes}}});
}

std::vector<std::string> Browser::errors() {
    std::vector<std::string> errors;
    for (const json& line : ask("POST", session_ + "/se/log", {{"type", "browser"}}))
        if (line.at("level") == "SEVERE") errors.push_back(line.at("message").get<std::string>());
    return errors;
}

void Browser::picture(const std::string& file) {
    const std::string bytes = bytes_of_base64(ask("GET", session_ + "/screenshot").get<std::string>());
    std::ofstream(file, std::ios::binary).write(bytes.data(), static_cast<std::streamsize>(bytes.size()));
}

} // namespace support
