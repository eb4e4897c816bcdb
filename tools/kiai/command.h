// What every command of the tool shares: how it is declared, how it finds its project, how it ends.
#pragma once

#include <kiai/check.h>
#include <kiai/project.h>

#include <CLI/CLI.hpp>

#include <filesystem>
#include <functional>
#include <map>
#include <stdexcept>
#include <string>
#include <vector>

namespace kiai::tool {

/// Exit statuses.
enum Status { done = 0, failed = 1, wrong_use = 2, not_written = 3 };

/// The command that was chosen, to be run once all arguments are read.
using Chosen = std::function<Status()>;

void add_new(CLI::App& app, Chosen& chosen);
void add_add(CLI::App& app, Chosen& chosen);
void add_check(CLI::App& app, Chosen& chosen);
void add_list(CLI::App& app, Chosen& chosen);
void add_show(CLI::App& app, Chosen& chosen);
void add_rename(CLI::App& app, Chosen& chosen);
void add_remove(CLI::App& app, Chosen& chosen);
void add_credits(CLI::App& app, Chosen& chosen);
void add_even(CLI::App& app, Chosen& chosen);
void add_hear(CLI::App& app, Chosen& chosen);
void add_trace(CLI::App& app, Chosen& chosen);
void add_zones(CLI::App& app, Chosen& chosen);
void add_why(CLI::App& app, Chosen& chosen);
void add_fire(CLI::App& app, Chosen& chosen);
void add_simulate(CLI::App& app, Chosen& chosen);
void add_rehearse(CLI::App& app, Chosen& chosen);
void add_demo(CLI::App& app, Chosen& chosen);

/// Declares a command with its example. The example stands below the options in its help.
CLI::App& declare(CLI::App& app, const std::string& name, const std::string& what, const std::string& example);

/// Thrown by a command whose arguments make no sense together; the text says what to write instead.
struct WrongUse : std::runtime_error {
    using std::runtime_error::runtime_error;
};

/// Takes the project's folder off the front of `words`: the first word, if it is a folder with a kiai.toml, that
/// kiai.toml itself, or one word more than the command has use for; otherwise returns the current folder or the nearest
/// above it that has a kiai.toml. Throws WrongUse if no folder has one, and the first word is a folder or names
/// nothing.
std::filesystem::path take_project(std::vector<std::string>& words, std::size_t most_others);

/// The project, if it can be played; findings of the severities that matter go to standard error.
Loaded load_or_say(const std::filesystem::path& folder);

/// Findings that are errors, and warnings where they are wanted, one line each, to standard error. True where none is
/// an error.
bool say_findings(const std::vector<Finding>& findings, bool warnings = true);

/// What an edit changed, line by line, and its remarks, to standard output; its findings to standard error.
Status say_edit(const Edited& edited);

/// One line on standard error, with the tool's name.
void say_error(const std::string& line);

/// True where colour and progress are wanted on standard output: a terminal, and no NO_COLOR.
bool colourful();

/// `text` in a colour (an SGR number), where that is wanted.
std::string paint(const std::string& text, int colour);

/// A line on the terminal that counts, once it takes more than a second; nothing where there is no terminal.
Progress progress_line(const std::string& what);

/// `1 take`, `2 takes`.
std::string counted(std::size_t count, const std::string& what);

/// With `between` between them.
std::string joined(const std::vector<std::string>& words, const std::string& between = " ");

/// Reads `speed=2.5` into a map; false, and a reason on standard error, where it is not that.
bool take_values(const std::vector<std::string>& words, const char* option, std::map<std::string, float>& into);

} // namespace kiai::tool
