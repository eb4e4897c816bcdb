#include "workshop/page/server.h"

#include <fmt/format.h>
#include <httplib.h>

#include <atomic>
#include <chrono>
#include <random>
#include <thread>

namespace kiai::workshop {
namespace {

constexpr std::size_t most_body = 1 << 20;
constexpr int threads = 32; // an open page takes one for its events, and a few more for a moment

std::string random_key() {
    std::random_device device;
    std::string key;
    for (int i = 0; i < 4; ++i) key += fmt::format("{:08x}", static_cast<std::uint32_t>(device()));
    return key;
}

/// Compares without stopping at the first difference, so that the time tells nothing about the key.
bool same(const std::string& a, const std::string& b) {
    if (a.size() != b.size()) return false;
    unsigned difference = 0;
    for (std::size_t i = 0; i < a.size(); ++i)
        difference |= static_cast<unsigned>(static_cast<unsigned char>(a[i]) ^ static_cast<unsigned char>(b[i]));
    return difference == 0;
}

void protect(httplib::Response& response) {
    response.set_header("Content-Security-Policy",
                        "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self'; connect-src 'self'; "
                        "media-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'");
    response.set_header("Referrer-Policy", "no-referrer"); // the address holds the key
    response.set_header("X-Content-Type-Options", "nosniff");
    response.set_header("Cross-Origin-Resource-Policy", "same-origin");
    response.set_header("Cache-Control", "no-store");
}

} // namespace

struct PageServer::State {
    Answers answers;
    httplib::Server server;
    std::string key = random_key(), url;
    std::thread thread;
    std::atomic<bool> stopped = false;
    int port = 0;

    bool ours(const httplib::Request& request) const {
        const std::string here[] = {fmt::format("127.0.0.1:{}", port), fmt::format("localhost:{}", port)};
        const std::string host = request.get_header_value("Host"), origin = request.get_header_value("Origin");
        const bool host_fits = host == here[0] || host == here[1];
        return host_fits && (origin.empty() || origin == "http://" + host);
    }

    void serve(const httplib::Request& request, httplib::Response& response, bool post) {
        protect(response);
        const std::string path = request.path.substr(1), key_given = path.substr(0, path.find('/'));
        if (!ours(request) || !same(key_given, key) || key_given.size() == path.size()) {
            response.status = 403;
            response.set_content("this address has no page; use the address that Kiai printed, with its key\n",
                                 "text/plain; charset=utf-8");
            return;
        }
        PageRequest asked{path.substr(key.size() + 1), {}, request.body, post};
        for (const auto& [name, value] : request.params) asked.values.emplace(name, value);
        if (asked.path == "events" && !post) return send_events(response);
        const PageAnswer answer = answers.answer(asked);
        response.status = answer.status;
        response.set_content(answer.body, answer.type);
    }

    void send_events(httplib::Response& response) {
        PageEvents next = answers.events();
        if (!next) {
            response.status = 503;
            response.set_content("too many pages are open\n", "text/plain; charset=utf-8");
            return;
        }
        response.set_chunked_content_provider(
            "text/event-stream", [this, next = std::move(next)](std::size_t, httplib::DataSink& sink) {
                if (stopped) return false;
                const std::string event = next();
                // A comment, so that a page that was closed is noticed.
                const std::string text = event.empty() ? ":\n\n" : "data: " + event + "\n\n";
                return sink.write(text.data(), text.size());
            });
    }
};

PageServer::PageServer(Answers answers) : state_(std::make_unique<State>()) {
    state_->answers = std::move(answers);
}

PageServer::~PageServer() {
    stop();
}

std::string PageServer::listen(int port) {
    httplib::Server& server = state_->server;
    server.new_task_queue = [] { return new httplib::ThreadPool(threads); };
    server.set_payload_max_length(most_body);
    server.set_keep_alive_max_count(1000000);
    server.set_tcp_nodelay(true);
    server.set_socket_options([](auto) {}); // by default two programs could listen on one port
    server.Get(R"(/.*)", [this](const auto& request, auto& response) { state_->serve(request, response, false); });
    server.Post(R"(/.*)", [this](const auto& request, auto& response) { state_->serve(request, response, true); });
    state_->port = port == 0                                ? server.bind_to_any_port("127.0.0.1")
                   : server.bind_to_port("127.0.0.1", port) ? port
                                                            : -1;
    if (state_->port <= 0) return fmt::format("port {} of this machine is taken", port);
    state_->url = fmt::format("http://127.0.0.1:{}/{}/", state_->port, state_->key);
    state_->thread = std::thread([this] { state_->server.listen_after_bind(); });
    while (!server.is_running()) std::this_thread::sleep_for(std::chrono::milliseconds(1)); // else `stop` has no effect
    return {};
}

const std::string& PageServer::url() const noexcept {
    return state_->url;
}

void PageServer::stop() {
    state_->stopped = true;
    state_->server.stop();
    if (state_->thread.joinable()) state_->thread.join();
}

} // namespace kiai::workshop
