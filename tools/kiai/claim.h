// Before a command writes a file: whether its extension says what it will be, and whether it may replace what is there.
#pragma once

#include "command.h"

#include <initializer_list>
#include <string>

namespace kiai::tool {

/// What Kiai writes into its own files, so that it knows them again.
constexpr const char* sound_mark = "Kiai";
constexpr const char* picture_mark = "Software";
constexpr const char* log_mark = "\"decision\"";
constexpr const char* trace_mark = "\"by\":\"kiai\"";

/// `done`, and no word, if `path` is empty, or has one of the extensions and names a file that does not exist, that
/// holds `mark`, or that `--force` lets be replaced. An extension may be ""; `-` is never a file.
Status claim_output(const std::string& path, std::initializer_list<const char*> extensions, const char* mark);

/// The `--force` of the command that runs.
bool& force() noexcept;
void add_force(Command& command);

} // namespace kiai::tool
