// A binding that is fired again and again.
#pragma once

#include "workshop/rehearse/staging.h"

namespace kiai::workshop {

/// What is reported in the n-th round (from 0), at seconds from the round's begin; all within half of `apart`, and what
/// it began is over again at its end.
std::vector<TraceLine> round_of(const model::Project& project, const model::Binding& binding,
                                const FireSettings& settings, int n, double apart);

/// Why it cannot come twice; empty: it can.
std::string only_once(const model::Binding& binding);

} // namespace kiai::workshop
