// A web server for one page, on this machine only.
#pragma once

#include <functional>
#include <map>
#include <memory>
#include <string>

namespace kiai::workshop {

struct PageRequest {
    std::string path; ///< below the key: `project`, `clip`
    std::map<std::string, std::string> values;
    std::string body;
    bool post = false;
};

struct PageAnswer {
    int status = 404;
    std::string type = "text/plain; charset=utf-8";
    std::string body = "not found";
};

/// The events of one open page: returns the next, or an empty text if nothing happened for a moment. Called again and
/// again on a thread of the server.
using PageEvents = std::function<std::string()>;

/// Listens on loopback. Serves only requests that know the key in its address and name this server as their host and
/// origin, so that no other page of the browser and no other machine can reach it.
class PageServer {
  public:
    struct Answers {
        std::function<PageAnswer(const PageRequest&)> answer; ///< on several threads at once
        std::function<PageEvents()> events;                   ///< for each page that opens; null: too many
    };
    explicit PageServer(Answers answers);
    ~PageServer();
    PageServer(const PageServer&) = delete;
    PageServer& operator=(const PageServer&) = delete;

    /// Starts to listen; `port` 0: a free one. Returns an empty text, or the error.
    std::string listen(int port);
    /// Returns the address of the page; empty before `listen`.
    const std::string& url() const noexcept;
    /// Closes all connections.
    void stop();

  private:
    struct State;
    std::unique_ptr<State> state_;
};

} // namespace kiai::workshop
