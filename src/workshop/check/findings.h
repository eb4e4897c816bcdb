// The kinds of doubts about a project; each function adds its findings.
#pragma once

#include "core/model/project.h"
#include "core/reader/entry.h"

#include <filesystem>

namespace kiai::workshop {

/// Reports clips, sounds and zones that nothing uses.
void doubt_uses(const model::Project& project, reader::Findings& findings);
/// Reports zones that can never be pressed.
void doubt_zones(const model::Project& project, reader::Findings& findings);
/// Reports bindings and sequences that do not do what is meant.
void doubt_bindings(const model::Project& project, reader::Findings& findings);
/// Reports actions without an effect, sounds that outlive their scope, and endless cascades.
void doubt_effects(const model::Project& project, reader::Findings& findings);
/// Reports doubts about the contents of files: silence, clipping, loudness, loop points.
void doubt_content(const model::Project& project, reader::Findings& findings);
/// Reports clips with the same content, and files that no clip names.
void doubt_files(const model::Project& project, const std::filesystem::path& folder, reader::Findings& findings);
/// Reports missing authors and licences.
void doubt_credits(const model::Project& project, reader::Findings& findings);

} // namespace kiai::workshop
