// A staged trigger in an engine of its own.
#pragma once

#include "workshop/rehearse/staging.h"

#include <kiai/workshop/fire.h>

#include <functional>

namespace kiai::workshop {

/// The result: decisions and levels, without samples. Runs until what is caused has ended, or has been listened to
/// for long enough; `is_it` tells the decision by which it happened.
Rehearsal run(const Project& project, const Staged& staged, const FireSettings& settings,
              const std::function<bool(const Decision&)>& is_it);

/// The project with the conditions of one binding set aside.
Project without_conditions(const Project& project, int binding);
/// The project without what other bindings do at the same trigger.
Project alone(const Project& project, int binding);

} // namespace kiai::workshop
