#include "command.h"

#include <fmt/format.h>

#include <cstdio>
#include <cstdlib>
#include <iostream>
#include <unistd.h>

namespace kiai::tool {

namespace fs = std::filesystem;

CLI::App& declare(CLI::App& app, const std::string& name, const std::string& what, const std::string& example) {
    CLI::App& command = *app.add_subcommand(name, what);
    command.footer("Example:\n  " + example);
    return command;
}

fs::path take_project(std::vector<std::string>& words, std::size_t most_others) {
    std::error_code error;
    const auto holds_project = [&](const fs::path& folder) { return fs::is_regular_file(folder / "kiai.toml", error); };
    if (!words.empty() && (words.size() > most_others || holds_project(words.front()))) {
        const fs::path folder = words.front();
        words.erase(words.begin());
        return folder;
    }
    const fs::path here = fs::current_path(error);
    for (fs::path folder = here; !folder.empty(); folder = folder.parent_path()) {
        if (holds_project(folder)) return fs::relative(folder, here, error);
        if (folder == folder.parent_path()) break;
    }
    return ".";
}

Loaded load_or_say(const fs::path& folder) {
    Loaded loaded = load_project(folder);
    for (const Finding& finding : loaded.findings)
        if (finding.severity != Severity::note) std::cerr << finding << '\n';
    return loaded;
}

void say_error(const std::string& line) {
    std::cerr << "kiai: " << line << '\n';
}

bool colourful() {
    const char* no_color = std::getenv("NO_COLOR");
    return isatty(STDOUT_FILENO) == 1 && (no_color == nullptr || *no_color == '\0');
}

std::string paint(const std::string& text, int colour) {
    return colourful() ? fmt::format("\x1b[{}m{}\x1b[0m", colour, text) : text;
}

} // namespace kiai::tool
