// Checks before a command writes a file: that the extension fits, and that an existing file may be replaced.
#pragma once

#include "command.h"

#include <initializer_list>
#include <string>

namespace kiai::tool {

/// The mark in Kiai's own files, by which the tool recognises them.
constexpr const char* sound_mark = "Kiai";
constexpr const char* picture_mark = "Software";
constexpr const char* log_mark = "\"decision\"";
constexpr const char* trace_mark = "\"by\":\"kiai\"";

/// Returns `done`, and prints nothing, if `path` is empty, or if it has one of the extensions and names a file that
/// does not exist, that contains `mark`, or that `--force` allows to replace. An extension may be ""; `-` is never a
/// file.
Status claim_output(const std::string& path, std::initializer_list<const char*> extensions, const char* mark);

/// Returns the `--force` of the running command.
bool& force() noexcept;
void add_force(Command& command);

} // namespace kiai::tool
