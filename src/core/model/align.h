// Gives a changed project the numbers of the running one.
#pragma once

#include "core/model/project.h"

namespace kiai::model {

/// Returns `changed` with its sounds, buses, dials, zones, scopes, motions and sequences ordered so that each name
/// keeps its number in `running`. Stored numbers therefore stay valid. A removed entry keeps its place too, with only
/// its name, and is marked `gone`; nothing refers to it. [control]
Project align(Project changed, const Project& running);

} // namespace kiai::model
