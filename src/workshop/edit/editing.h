// What every edit of a kiai.toml shares: one at a time, checked, written whole or not at all.
#pragma once

#include "workshop/edit/document.h"

#include <kiai/workshop/check.h>

#include <filesystem>
#include <functional>

namespace kiai::workshop {

/// Adds an error to what an edit tells; nothing is written then.
void refuse(EditResult& edited, const std::filesystem::path& folder, FindingCode code, model::Source source,
            std::string message, std::string fix);

/// Locks `folder`/kiai.toml, lets `change` edit it, reads the result again, and writes it. `change` may refuse.
EditResult edit_project(const std::filesystem::path& folder, const std::function<void(Document&, EditResult&)>& change);

/// The same, but for the writing.
EditResult try_edit(const std::filesystem::path& folder, const std::function<void(Document&, EditResult&)>& change);

} // namespace kiai::workshop
