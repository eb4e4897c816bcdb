// Fires a binding again and again.
#pragma once

#include "workshop/rehearse/staging.h"

namespace kiai::workshop {

class Rounds {
  public:
    /// `apart`: the length of a round, in seconds.
    Rounds(const model::Project& project, const model::Binding& binding, const FireSettings& settings, double apart);

    /// Returns the reports of the n-th round (from 0), in seconds from its start. All are within half of it, and
    /// everything they start has ended at its end. The result is valid until the next call.
    const std::vector<TraceLine>& reports(int n);

  private:
    std::vector<TraceLine> lines_;
};

/// Returns why the binding cannot fire twice; empty if it can.
std::string only_once(const model::Binding& binding);

} // namespace kiai::workshop
