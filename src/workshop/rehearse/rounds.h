// Fires a binding again and again.
#pragma once

#include "workshop/rehearse/staging.h"

namespace kiai::workshop {

/// Returns the reports of the n-th round (from 0), in seconds from its start. All are within half of `apart`, and
/// everything they start has ended at the end of the round.
std::vector<TraceLine> round_of(const model::Project& project, const model::Binding& binding,
                                const FireSettings& settings, int n, double apart);

/// Returns why the binding cannot fire twice; empty if it can.
std::string only_once(const model::Binding& binding);

} // namespace kiai::workshop
