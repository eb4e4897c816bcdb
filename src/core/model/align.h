// A changed project in the numbers of the one that runs.
#pragma once

#include "core/model/project.h"

namespace kiai::model {

/// `changed`, with its sounds, buses, dials, zones, scopes, motions and sequences in such an order that each name has
/// the number that it has in `running`. So a number that is kept stays valid. What is there no more keeps
/// its place too, with nothing but its name, and says that it is `gone`; no reference leads to it. [control]
Project align(Project changed, const Project& running);

} // namespace kiai::model
