// The state at the start of a recording, as reports, so that its rehearsal starts in the same state.
#pragma once

#include "core/rules/key_state.h"
#include "core/rules/state.h"

namespace kiai::rules {

class Snapshot {
  public:
    Snapshot(const RuleState& state, const KeyState& keys) noexcept : state_(state), keys_(keys) {}

    /// Writes the state; serves none of it. [rt]
    void take() noexcept;

  private:
    void record(mixer::Command command, ReportKind report) noexcept;
    void scopes() noexcept;
    void levels() noexcept;
    void counts() noexcept;
    void held() noexcept;

    const RuleState& state_;
    const KeyState& keys_;
};

} // namespace kiai::rules
