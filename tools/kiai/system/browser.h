// The user's web browser.
#pragma once

#include <string>

namespace kiai::tool {

/// Opens the address in the user's browser, if this session has a screen. Does not wait for it.
void open_browser(const std::string& url);

} // namespace kiai::tool
