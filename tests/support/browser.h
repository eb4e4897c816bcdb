// A headless browser, driven over WebDriver (W3C).
#pragma once

#include <nlohmann/json.hpp>

#include <string>
#include <vector>

namespace support {

std::string bytes_of_base64(const std::string& text);

/// The process that drives browsers. It ends with the object, also where it could start no browser.
class BrowserDriver {
  public:
    BrowserDriver();
    ~BrowserDriver();
    BrowserDriver(const BrowserDriver&) = delete;
    BrowserDriver& operator=(const BrowserDriver&) = delete;
    int port() const noexcept { return port_; } ///< on 127.0.0.1

  private:
    int process_ = 0, port_ = 0;
};

class Browser {
  public:
    /// Starts a browser with a page of this size, in CSS pixels.
    Browser(int width = 1280, int height = 800);
    ~Browser();
    Browser(const Browser&) = delete;
    Browser& operator=(const Browser&) = delete;

    void go(const std::string& url);
    void resize(int width, int height);
    /// Runs the body of a function; returns what it returns.
    nlohmann::json run(const std::string& script);
    /// Runs the expression again and again until it is true, at most for `seconds`. Returns whether it was.
    bool wait_for(const std::string& expression, double seconds = 20);
    /// Presses the middle of an element for some milliseconds.
    void press(const std::string& selector, int milliseconds = 60);
    /// Types keys, one after the other; W3C's code points for special keys.
    void keys(const std::string& text);
    /// Returns what the page wrote to the console as errors.
    std::vector<std::string> errors();
    /// Writes a PNG of the page.
    void picture(const std::string& file);

  private:
    nlohmann::json ask(const char* method, const std::string& path, const nlohmann::json& body = nullptr);
    void act(const nlohmann::json& actions);

    BrowserDriver driver_;
    std::string session_;
};

} // namespace support
