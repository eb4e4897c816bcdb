// What follows from an action, through the sequences that it runs and the notices that it gives.
#pragma once

#include "core/model/project.h"

#include <functional>
#include <set>
#include <vector>

namespace kiai::model {

/// It begins a play, where it is let.
bool starts(Verb verb) noexcept;

/// Each action among steps, and among the steps within them.
void for_each_action(const std::vector<Step>& steps, const std::function<void(const Action&)>& use);

/// Seconds of its shortest take, as it is, of the layer that lasts longest; 0 where it has none.
double shortest(const Project& project, const Sound& sound);

/// The sounds that a binding starts, by itself or by a sequence; not what is bound to the notices that it gives.
std::set<int> sounds_started(const Project& project, const Binding& binding);

/// The same of all that comes of it: of the bindings to its notices and to the ends of its sounds too.
std::set<int> sounds_started_in_the_end(const Project& project, const Binding& binding);

} // namespace kiai::model
