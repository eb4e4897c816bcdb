#include "browser.h"

#include <cstdlib>

#include <spawn.h>
#include <unistd.h>

extern char** environ;

namespace kiai::tool {

void open_browser(const std::string& url) {
    const char* const screens[] = {std::getenv("DISPLAY"), std::getenv("WAYLAND_DISPLAY")};
    if (!screens[0] && !screens[1]) return;
    std::string program = "xdg-open", address = url;
    char* const words[] = {program.data(), address.data(), nullptr};
    pid_t process = 0;
    posix_spawnp(&process, program.c_str(), nullptr, nullptr, words, environ);
}

} // namespace kiai::tool
