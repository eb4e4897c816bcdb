// The kinds of doubts about a project that has been read; each adds its findings.
#pragma once

#include "core/model/project.h"
#include "core/reader/entry.h"

#include <filesystem>

namespace kiai::workshop {

/// Clips, sounds and zones that nothing uses.
void doubt_uses(const model::Project& project, reader::Findings& findings);
/// Zones that can never be pressed.
void doubt_zones(const model::Project& project, reader::Findings& findings);
/// Bindings and sequences that will not do what is meant.
void doubt_bindings(const model::Project& project, reader::Findings& findings);
/// Actions that do nothing, what outlives its scope, what causes itself.
void doubt_effects(const model::Project& project, reader::Findings& findings);
/// What the files hold: silence, clipping, loudness, seams.
void doubt_content(const model::Project& project, reader::Findings& findings);
/// Two clips of the same content, files that no clip names.
void doubt_files(const model::Project& project, const std::filesystem::path& folder, reader::Findings& findings);
/// Who made it, under which licence.
void doubt_credits(const model::Project& project, reader::Findings& findings);

} // namespace kiai::workshop
