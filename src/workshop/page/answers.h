// Makes the answers of a page, and reads the values of its requests.
#pragma once

#include "workshop/page/describe.h"
#include "workshop/page/server.h"

#include <string>

namespace kiai::workshop {

inline PageAnswer as_json(std::string body = "{}") {
    return {200, "application/json", std::move(body)};
}

inline PageAnswer refused(int status, const std::string& message, const std::string& fix) {
    return {status, "application/json", describe_error(message, fix)};
}

/// Returns the value of a name; empty if the request has none.
inline std::string value_of(const PageRequest& request, const char* name) {
    const auto found = request.values.find(name);
    return found == request.values.end() ? std::string() : found->second;
}

} // namespace kiai::workshop
