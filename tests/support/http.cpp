#include "support/http.h"

#include <httplib.h>

#include <chrono>
#include <optional>

namespace support {
namespace {

/// The part before the path, and the path.
std::pair<std::string, std::string> parts(const std::string& url) {
    const std::size_t path = url.find('/', url.find("//") + 2);
    return {url.substr(0, path), url.substr(path)};
}

Reply reply_of(const httplib::Result& result) {
    if (!result) return {};
    Reply reply{result->status, result->get_header_value("Content-Type"), result->body, {}};
    for (const auto& [name, value] : result->headers) reply.headers[name] = value;
    return reply;
}

httplib::Headers of(const Headers& headers) {
    return {headers.begin(), headers.end()};
}

} // namespace

Reply get(const std::string& url, const Headers& headers) {
    const auto [host, path] = parts(url);
    httplib::Client client(host);
    return reply_of(client.Get(path, of(headers)));
}

Reply post(const std::string& url, const std::string& body, const Headers& headers) {
    const auto [host, path] = parts(url);
    httplib::Client client(host);
    return reply_of(client.Post(path, of(headers), body, "text/plain"));
}

bool read_events(const std::string& url, double seconds, const std::function<bool(const nlohmann::json&)>& enough) {
    const auto [host, path] = parts(url);
    httplib::Client client(host);
    std::optional<std::chrono::steady_clock::time_point> first;
    std::string text;
    bool done = false;
    client.Get(path, [&](const char* data, std::size_t count) {
        text.append(data, count);
        for (std::size_t stop = 0; !done && (stop = text.find("\n\n")) != std::string::npos; text.erase(0, stop + 2))
            if (text.starts_with("data: ")) {
                if (!first) first = std::chrono::steady_clock::now();
                done = enough(nlohmann::json::parse(text.substr(6, stop - 6)));
            }
        return !done && (!first || std::chrono::steady_clock::now() - *first < std::chrono::duration<double>(seconds));
    });
    return done;
}

} // namespace support
