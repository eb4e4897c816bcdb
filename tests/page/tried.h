// The demo on a page, as the tests of the page use it.
#pragma once

#include "support/http.h"
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <kiai/workshop/page.h>

#include <functional>
#include <string>

namespace support {

/// The demo in a folder of its own.
struct Tried : Folder {
    Tried() { std::filesystem::copy(demo(), path() / "bench", std::filesystem::copy_options::recursive); }
    const std::filesystem::path bench = path() / "bench";
};

inline int port_of(const std::string& url) {
    return std::stoi(url.substr(url.find(':', 6) + 1));
}

/// Waits for a decision for which `it` returns true. Returns whether it came.
inline bool decided(const std::string& url, const std::function<bool(const nlohmann::json&)>& it, double seconds = 15) {
    return read_events(url + "events", seconds, [&](const nlohmann::json& event) {
        for (const nlohmann::json& decision : event.at("decisions"))
            if (it(decision)) return true;
        return false;
    });
}

} // namespace support
