// Runs a staged trigger in a new engine.
#pragma once

#include "workshop/rehearse/staging.h"

#include <kiai/workshop/fire.h>

#include <functional>

namespace kiai::workshop {

/// Returns decisions and levels, without samples. Runs until everything caused has ended, or for the maximum time;
/// `is_it` recognises the decision of the trigger.
Rehearsal run(const Project& project, const Staged& staged, const FireSettings& settings,
              const std::function<bool(const Decision&)>& is_it);

/// Returns the project without the conditions of one binding.
Project without_conditions(const Project& project, int binding);
/// Returns the project without other bindings of the same trigger.
Project alone(const Project& project, int binding);

} // namespace kiai::workshop
