// Prints the changes of a command that edits kiai.toml.
#pragma once

#include "command.h"

#include <kiai/workshop/edit.h>

namespace kiai::tool {

/// Prints the changes, remarks and findings of an edit as text or as a document.
Status report_edit(const EditResult& edited, bool json);

} // namespace kiai::tool
