// Prints what became of an added file.
#pragma once

#include "command.h"

#include <kiai/workshop/add.h>

namespace kiai::tool {

/// Returns `added`, `known` or `refused`.
const char* word_of(AddedFile::Outcome outcome);
/// Prints a line: added, known or refused, and why.
void print_added(const AddedFile& file);

} // namespace kiai::tool
