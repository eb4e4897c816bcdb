// The texts about the commands, made from their declarations.
#pragma once

#include "options.h"

#include <string>

namespace kiai::tool {

/// Returns all commands by group.
std::string overview(const Commands& commands);
/// Returns usage, operands, options, exit statuses and examples of a command, wrapped at 80 columns.
std::string help_page(const CommandText& command);
/// Returns the version, and how it was built.
std::string version_text();
/// Returns the manual page of a command, or of the tool, in the language of man(7).
std::string manual_page(const CommandText& command);
std::string manual_page(const Commands& commands);
/// Returns a script that completes commands, options and values in a shell: bash, zsh or fish.
std::string completions(const Commands& commands, const std::string& shell);

/// Returns the heading of a group in the overview.
const char* to_string(Group group) noexcept;
/// Returns `Gap between plays (0 s to 60 s, default 100 ms)`.
std::string full_text(const OptionText& option);
/// Returns the exit statuses of a command: number and meaning.
std::vector<std::pair<int, std::string>> statuses_of(const CommandText& command);
/// Returns the options of a command, including those of every command.
std::vector<OptionText> all_options(const CommandText& command);
/// Returns the operand PROJECT, for commands that take it.
const OperandText& project_operand();

} // namespace kiai::tool
