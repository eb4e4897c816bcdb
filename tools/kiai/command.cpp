#include "command.h"

#include "system/terminal.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <iostream>
#include <sstream>

namespace kiai::tool {

namespace fs = std::filesystem;

namespace {

bool holds_project(const fs::path& folder) {
    std::error_code error;
    return fs::is_regular_file(folder / "kiai.toml", error);
}

/// Returns the folder that a word names as a project: one with a kiai.toml, or that file itself.
std::optional<fs::path> project_at(const fs::path& word) {
    std::error_code error;
    if (word.filename() == "kiai.toml" && fs::is_regular_file(word, error))
        return word.has_parent_path() ? word.parent_path() : ".";
    return holds_project(word) ? std::optional(word) : std::nullopt;
}

/// Returns the current folder, or the nearest above it, with a kiai.toml.
std::optional<fs::path> nearest_project() {
    std::error_code error;
    const fs::path here = fs::current_path(error);
    for (fs::path folder = here; !folder.empty(); folder = folder.parent_path()) {
        if (holds_project(folder)) return fs::relative(folder, here, error);
        if (folder == folder.parent_path()) break;
    }
    return std::nullopt;
}

[[noreturn]] void refuse_project(const std::string& word) {
    std::error_code error;
    throw WrongUse(fs::is_directory(word, error)
                       ? fmt::format("the folder \"{0}\" has no kiai.toml; make a project: kiai new {0}/sound", word)
                       : fmt::format("no project at \"{0}\"; make a project: kiai new {0}", word));
}

std::size_t most_operands(const CommandText& command) {
    for (const OperandText& operand : command.operands)
        if (operand.name.find("…") != std::string::npos) return std::string::npos;
    return command.operands.size();
}

/// Returns true if a word can be an operand of the command, although it is the name of a folder without a project.
bool fits(const CommandText& command, const std::string& word) {
    if (command.operands.empty()) return false;
    const OperandText& first = command.operands.front();
    return first.completes != Completes::nothing ||
           std::find(first.choices.begin(), first.choices.end(), word) != first.choices.end();
}

} // namespace

void take_operands(const Operands& words) {
    const CommandText& command = *words.command;
    for (std::size_t i = words.size(); i < command.operands.size(); ++i)
        if (command.operands[i].name.front() != '[')
            throw WrongUse(fmt::format("missing {}; usage: {}", command.operands[i].name, usage_of(command)));
    if (words.size() > most_operands(command))
        throw WrongUse(
            fmt::format("unexpected argument \"{}\"; usage: {}", words[most_operands(command)], usage_of(command)));
}

std::optional<fs::path> take_optional_project(Operands& words) {
    std::optional<fs::path> project;
    if (words.project) {
        project = project_at(*words.project);
        if (!project) refuse_project(*words.project);
    } else if (!words.empty() && (project = project_at(words.front()))) {
        words.erase(words.begin());
    }
    std::error_code error;
    if (!project && words.size() > most_operands(*words.command) &&
        (fs::is_directory(words.front(), error) || !fs::exists(words.front(), error)))
        refuse_project(words.front());
    take_operands(words);
    return project;
}

fs::path take_project(Operands& words) {
    const CommandText& command = *words.command;
    std::error_code error;
    if (!words.empty() && !words.project && !project_at(words.front()) && fs::is_directory(words.front(), error) &&
        !fits(command, words.front()))
        refuse_project(words.front());
    if (const auto project = take_optional_project(words)) return *project;
    if (const auto project = nearest_project()) return *project;
    if (!words.empty() && fs::is_regular_file(words.front(), error)) return "."; // the command says what is missing
    if (!words.empty() && fs::is_directory(words.front(), error)) refuse_project(words.front());
    throw WrongUse(fmt::format("no project: neither this folder nor a folder above has a kiai.toml; name the project "
                               "first, or make one: kiai new {}",
                               words.empty() || fs::exists(words.front(), error) ? "NAME" : words.front()));
}

std::optional<fs::path> take_project_or_files(Operands& words) {
    std::error_code error;
    const bool files = !words.empty() && std::all_of(words.begin(), words.end(), [&](const std::string& word) {
        return fs::exists(word, error) || word.find_first_of("*?") != std::string::npos;
    });
    if (words.project || !files || project_at(words.front()) || nearest_project()) return take_project(words);
    take_operands(words);
    return std::nullopt;
}

Option add_json(Command& command, bool& into) {
    return command.flag("--json", into, "Print the result, and errors, as JSON");
}

void add_dry_run(Command& command, bool& into) {
    command.flag("-n,--dry-run", into, "Print the changes, and write nothing");
}

void add_quiet(Command& command, bool& into) {
    command.flag("-q,--quiet", into, "Play nothing on the device");
}

void add_seed(Command& command, std::uint64_t& into) {
    command.option("--seed", into, "NUMBER", "Seed of all random choices").shows_default();
}

void add_cut(Command& command, double& start, double& end, const std::string& what) {
    constexpr double day = 24 * 3600;
    command.time("--start", start, 0, day, "Start " + what);
    command.time("--end", end, 0, day, "End " + what);
}

void check_cut(double start, double end) {
    if (end > 0 && end <= start) throw WrongUse("--end is not after --start; give a later time");
}

LoadResult load_or_say(const fs::path& folder) {
    LoadResult loaded = load_project(folder, {.progress = progress_line("clips decoded")});
    say_findings(loaded.findings);
    return loaded;
}

bool say_findings(const std::vector<Finding>& findings, Severity least) {
    for (const Finding& finding : findings)
        if (finding.severity == Severity::error || (finding.severity <= least && finding.accepted.empty())) {
            said().findings.push_back(finding);
            std::cerr << finding << '\n';
        }
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

Said& said() noexcept {
    static Said all;
    return all;
}

void say_error(const std::string& line) {
    said().messages.push_back(line);
    std::cerr << "kiai: " << line << '\n';
}

bool colourful() {
    const char* no_color = std::getenv("NO_COLOR");
    return prints_to_terminal() && (no_color == nullptr || *no_color == '\0');
}

std::string paint(const std::string& text, int colour) {
    return colourful() ? fmt::format("\x1b[{}m{}\x1b[0m", colour, text) : text;
}

Progress progress_line(const std::string& what) {
    if (!reports_to_terminal()) return {};
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

std::string size_text(std::uint64_t bytes) {
    return bytes < 100'000 ? fmt::format("{:.1f} kB", static_cast<double>(bytes) / 1e3)
                           : fmt::format("{:.2f} MB", static_cast<double>(bytes) / 1e6);
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
            say_error(fmt::format("{} {} is not NAME=NUMBER; write {} speed=2.5", option, word, option));
            return false;
        }
        into[word.substr(0, at)] = value;
    }
    return true;
}

} // namespace kiai::tool
