// Shared by all commands of the tool: how they find the project, and how they end.
#pragma once

#include "options.h"

#include <kiai/load.h>
#include <kiai/workshop/check.h>

#include <filesystem>
#include <functional>
#include <map>
#include <optional>
#include <string>
#include <vector>

namespace kiai::tool {

void add_new(Commands& commands);
void add_add(Commands& commands);
void add_check(Commands& commands);
void add_list(Commands& commands);
void add_show(Commands& commands);
void add_bind(Commands& commands);
void add_unbind(Commands& commands);
void add_convert(Commands& commands);
void add_trim(Commands& commands);
void add_markers(Commands& commands);
void add_try(Commands& commands);
void add_report(Commands& commands);
void add_rename(Commands& commands);
void add_remove(Commands& commands);
void add_credits(Commands& commands);
void add_even(Commands& commands);
void add_hear(Commands& commands);
void add_trace(Commands& commands);
void add_zones(Commands& commands);
void add_why(Commands& commands);
void add_fire(Commands& commands);
void add_simulate(Commands& commands);
void add_rehearse(Commands& commands);
void add_pack(Commands& commands);
void add_names(Commands& commands);
void add_demo(Commands& commands);
void add_explain(Commands& commands);
void add_help(Commands& commands);

/// Removes the project from the words and returns its folder: what -C names; the first word, if it is a folder with a
/// kiai.toml or that file itself; else the current folder or the nearest above with a kiai.toml. Throws WrongUse if
/// there is no project, or if too few or too many words remain.
std::filesystem::path take_project(Operands& words);
/// The same for a command that also works without a project.
std::optional<std::filesystem::path> take_optional_project(Operands& words);
/// The same for a command that works on files too. Returns nothing if there is no project, but the words are files and
/// folders.
std::optional<std::filesystem::path> take_project_or_files(Operands& words);
/// Throws WrongUse if the words are too few or too many.
void take_operands(const Operands& words);

/// Options that several commands have.
Option add_json(Command& command, bool& into);
void add_dry_run(Command& command, bool& into);
/// Declares `--quiet`, for commands that play in a terminal.
void add_quiet(Command& command, bool& into);
void add_seed(Command& command, std::uint64_t& into);
/// Declares `--start` and `--end`.
void add_cut(Command& command, double& start, double& end, const std::string& what);
/// Throws WrongUse if the end is not after the start.
void check_cut(double start, double end);

/// Loads the project. Prints errors and warnings on standard error.
LoadResult load_or_say(const std::filesystem::path& folder);

/// Prints the findings of this severity and above that are not accepted, one line each, on standard error. Returns true
/// if none is an error.
bool say_findings(const std::vector<Finding>& findings, Severity least = Severity::warning);

/// Prints what an edit changed, line by line, and its remarks on standard output; its findings on standard error.
Status say_edit(const EditResult& edited);

/// Prints a line on standard error, with the tool's name.
void say_error(const std::string& line);

/// The lines that were printed on standard error, for --json.
struct Said {
    std::vector<std::string> messages;
    std::vector<Finding> findings;
};
Said& said() noexcept;

/// Returns true if standard output is a terminal and NO_COLOR is not set.
bool colourful();

/// Returns `text` in a colour (an SGR number), if standard output is colourful.
std::string paint(const std::string& text, int colour);

/// Prints a counting line on the terminal after one second; nothing without a terminal.
Progress progress_line(const std::string& what);

/// Returns `1 take`, `2 takes`.
std::string counted(std::size_t count, const std::string& what);
/// Returns `35.3 kB`, `0.20 MB`.
std::string size_text(std::uint64_t bytes);

/// Joins words with `between`.
std::string joined(const std::vector<std::string>& words, const std::string& between = " ");

/// Reads `speed=2.5` into a map. Returns false, after printing why, for anything else.
bool take_values(const std::vector<std::string>& words, const char* option, std::map<std::string, float>& into);

} // namespace kiai::tool
