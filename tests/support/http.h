// Requests to a page, as a browser or anybody else sends them.
#pragma once

#include <nlohmann/json.hpp>

#include <functional>
#include <map>
#include <string>

namespace support {

struct Reply {
    int status = -1; ///< -1: no connection
    std::string type, body;
    std::map<std::string, std::string> headers;
    nlohmann::json json() const { return nlohmann::json::parse(body); }
};

using Headers = std::map<std::string, std::string>;

Reply get(const std::string& url, const Headers& headers = {});
Reply post(const std::string& url, const std::string& body = {}, const Headers& headers = {});

/// Reads the events of a page until `enough` returns true, or for `seconds` after the first. Returns whether it did.
bool read_events(const std::string& url, double seconds, const std::function<bool(const nlohmann::json&)>& enough);

} // namespace support
