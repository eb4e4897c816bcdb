// The consequences of an action, through the sequences that it runs and the notices that it gives.
#pragma once

#include "core/model/project.h"

#include <functional>
#include <set>
#include <vector>

namespace kiai::model {

/// Returns true if the action may start a play.
bool starts(Verb verb) noexcept;

/// Calls `use` with each action in the steps, and in the steps within them.
void for_each_action(const std::vector<Step>& steps, const std::function<void(const Action&)>& use);

/// Returns the length in seconds of the shortest take of the longest layer; 0 without takes.
double shortest(const Project& project, const Sound& sound);

/// Returns the sounds that a binding starts, directly or by a sequence, but not by its notices.
std::set<int> sounds_started(const Project& project, const Binding& binding);

/// Returns all sounds that a binding starts, including the bindings of its notices and of the ends of its sounds.
std::set<int> sounds_started_in_the_end(const Project& project, const Binding& binding);

} // namespace kiai::model
