// The texts about the commands, made from their declarations.
#pragma once

#include "options.h"

#include <string>

namespace kiai::tool {

/// All commands, by group.
std::string overview(const Commands& commands);
/// Usage, operands, options, exit statuses and examples of a command, wrapped at 80 columns.
std::string help_page(const CommandText& command);
/// The version, and how it was built.
std::string version_text();
/// The manual page of a command, or of the tool, in the language of man(7).
std::string manual_page(const CommandText& command);
std::string manual_page(const Commands& commands);
/// A script that completes commands, options and values in a shell: bash, zsh or fish.
std::string completions(const Commands& commands, const std::string& shell);

/// The heading of a group in the overview.
const char* to_string(Group group) noexcept;
/// `Gap between plays (0 s to 60 s, default 100 ms)`.
std::string full_text(const OptionText& option);
/// The exit statuses of a command: number and meaning.
std::vector<std::pair<int, std::string>> statuses_of(const CommandText& command);
/// The options of a command with those that every command takes.
std::vector<OptionText> all_options(const CommandText& command);
/// What the operand PROJECT is, for commands that take it.
const OperandText& project_operand();

} // namespace kiai::tool
