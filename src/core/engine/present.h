// What an engine does at the moment, for threads that ask.
#pragma once

#include "core/engine/shared.h"

#include <kiai/state.h>

#include <vector>

namespace kiai::engine {

/// Returns all plays that have not ended, by number. [any]
std::vector<PlayingNow> plays_now(EngineShared& shared);
/// Returns all timers that wait, by binding. [any]
std::vector<WaitingTimer> waiting_timers(EngineShared& shared);

} // namespace kiai::engine
