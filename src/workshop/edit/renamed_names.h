// Remembers the names that a rename replaced, so that old names in code can be found.
#pragma once

#include <filesystem>
#include <map>
#include <string>

namespace kiai::workshop {

/// The old names of a project with their kinds, and what they are called now.
using RenamedNames = std::map<std::pair<std::string, std::string>, std::string>; ///< (kind, old name) → new name

/// Reads the names from .kiai-renamed in the project's folder; empty if there is none. [control]
RenamedNames read_renamed(const std::filesystem::path& folder);
/// Adds a name to the file. A name that is used again is no longer an old one. Failures are ignored, because the file
/// only improves a message. [control]
void remember_renamed(const std::filesystem::path& folder, const std::string& kind, const std::string& name,
                      const std::string& new_name);

} // namespace kiai::workshop
