// Finds what an app must report so that a binding fires.
#pragma once

#include "core/model/project.h"

#include <kiai/workshop/fire.h>

#include <string>
#include <vector>

namespace kiai::workshop {

struct Staged {
    std::vector<TraceLine> lines; ///< with their seconds
    Seconds latest = Seconds(1);  ///< by then it has happened
    std::string impossible;       ///< why it cannot happen; empty: it can
};

/// For a new engine: turns on the scopes of the binding and its zone. The trigger comes after a tenth of a second, or
/// when it is due.
Staged stage(const model::Project& project, const model::Binding& binding, const FireSettings& settings);
/// The same for a press or an `enter` at a point.
Staged stage(Point point, ReportKind kind);

/// Returns a point near the middle of a zone at which the zone is in front, or its middle if there is none.
Point front_spot(const model::Project& project, std::size_t zone);

} // namespace kiai::workshop
