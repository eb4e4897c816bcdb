#include "command.h"

#include <fmt/format.h>

#include <charconv>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <iostream>
#include <sstream>
#include <unistd.h>

namespace kiai::tool {

namespace fs = std::filesystem;

fs::path take_project(std::vector<std::string>& words, std::size_t most_others) {
    std::error_code error;
    const auto holds_project = [&](const fs::path& folder) { return fs::is_regular_file(folder / "kiai.toml", error); };
    const bool named = !words.empty();
    const fs::path first = named ? words.front() : "";
    const bool is_file = first.filename() == "kiai.toml" && fs::is_regular_file(first, error);
    if (named && (is_file || words.size() > most_others || holds_project(first))) {
        words.erase(words.begin());
        if (!is_file) return first;
        return first.has_parent_path() ? first.parent_path() : ".";
    }
    const fs::path here = fs::current_path(error);
    for (fs::path folder = here; !folder.empty(); folder = folder.parent_path()) {
        if (holds_project(folder)) return fs::relative(folder, here, error);
        if (folder == folder.parent_path()) break;
    }
    const bool is_folder = fs::is_directory(first, error);
    if (named && (is_folder || !fs::exists(first, error)))
        throw WrongUse(
            fmt::format("{}\"{}\" has no kiai.toml, and neither this folder nor a folder above has one; name "
                        "the project's folder first, or make a project: kiai new {}",
                        is_folder ? "folder " : "", words.front(), is_folder ? "NAME" : words.front()));
    return ".";
}

LoadResult load_or_say(const fs::path& folder) {
    LoadResult loaded = load_project(folder, {.progress = progress_line("clips decoded")});
    say_findings(loaded.findings);
    return loaded;
}

bool say_findings(const std::vector<Finding>& findings, bool warnings) {
    for (const Finding& finding : findings)
        if (finding.severity == Severity::error ||
            (warnings && finding.severity == Severity::warning && finding.accepted.empty()))
            std::cerr << finding << '\n';
    return count(findings, Severity::error) == 0;
}

Status say_edit(const EditResult& edited) {
    if (!say_findings(edited.findings)) return failed;
    for (const Change& change : edited.changes) {
        const auto print = [&](const std::string& lines, char mark, int colour) {
            std::istringstream all(lines);
            for (std::string line; std::getline(all, line);)
                std::cout << paint(
                                 fmt::format("{:>5} {} {}", mark == '-' ? std::to_string(change.line) : "", mark, line),
                                 colour)
                          << '\n';
        };
        print(change.before, '-', 31);
        print(change.after, '+', 32);
    }
    for (const std::string& remark : edited.remarks) std::cout << remark << '\n';
    return done;
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

Progress progress_line(const std::string& what) {
    if (isatty(STDERR_FILENO) != 1) return {};
    using Clock = std::chrono::steady_clock;
    return [what, begin = Clock::now(), last = Clock::time_point(), shown = false](std::size_t so_far,
                                                                                   std::size_t all) mutable {
        const auto now = Clock::now();
        const bool over = so_far == all;
        if (now - begin < std::chrono::seconds(1) || (!over && now - last < std::chrono::milliseconds(100)) ||
            (over && !shown))
            return;
        last = now;
        shown = true;
        std::cerr << fmt::format("\r\x1b[K{} of {} {}", so_far, all, what) << (over ? "\r\x1b[K" : "") << std::flush;
    };
}

std::string counted(std::size_t count, const std::string& what) {
    return fmt::format("{} {}{}", count, what, count == 1 ? "" : "s");
}

std::string joined(const std::vector<std::string>& words, const std::string& between) {
    return fmt::format("{}", fmt::join(words, between));
}

bool take_values(const std::vector<std::string>& words, const char* option, std::map<std::string, float>& into) {
    for (const std::string& word : words) {
        const auto at = word.find('=');
        float value = 0;
        const char *from = word.data() + (at == std::string::npos ? word.size() : at + 1),
                   *to = word.data() + word.size();
        const bool number = from != to && std::from_chars(from, to, value).ptr == to;
        if (!number || at == 0 || !std::isfinite(value)) {
            say_error(fmt::format("{} {} is not a name and a number; write {} speed=2.5", option, word, option));
            return false;
        }
        into[word.substr(0, at)] = value;
    }
    return true;
}

} // namespace kiai::tool
