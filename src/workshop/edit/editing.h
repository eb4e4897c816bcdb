// Shared by all edits of a kiai.toml: one at a time, checked, written whole or not at all.
#pragma once

#include "workshop/edit/document.h"

#include <kiai/load.h>
#include <kiai/workshop/check.h>

#include <filesystem>
#include <functional>

namespace kiai::workshop {

/// Adds an error to the result of an edit, so that nothing is written.
void refuse(EditResult& edited, const std::filesystem::path& folder, FindingCode code, model::Source source,
            std::string message, std::string fix);

/// Reads the entries of a project without its audio files, whose existence alone is checked. [control]
LoadResult read_entries(const std::filesystem::path& folder, const reader::Value& root);

/// Locks `folder`/kiai.toml, lets `change` edit it, parses the result, and writes it. `change` may refuse.
EditResult edit_project(const std::filesystem::path& folder, const std::function<void(Document&, EditResult&)>& change);

/// The same without writing.
EditResult try_edit(const std::filesystem::path& folder, const std::function<void(Document&, EditResult&)>& change);

} // namespace kiai::workshop
