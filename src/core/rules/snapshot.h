// The state at the moment at which a recording begins, as reports: so that its rehearsal begins with the same.
#pragma once

#include "core/rules/key_state.h"
#include "core/rules/state.h"

namespace kiai::rules {

class Snapshot {
  public:
    Snapshot(const RuleState& state, const KeyState& keys) noexcept : state_(state), keys_(keys) {}

    /// Writes the state down; nothing of it is served. [rt]
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
