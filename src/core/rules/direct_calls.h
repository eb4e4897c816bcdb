// What the app does without a binding: plays, stops, sequences, gains of buses.
#pragma once

#include "core/rules/action_runner.h"
#include "core/rules/state.h"

namespace kiai::rules {

class DirectCalls {
  public:
    DirectCalls(RuleState& state, ActionRunner& actions) noexcept : state_(state), actions_(actions) {}

    /// Serves a report about a sound or a sequence. [rt]
    void serve_play(const mixer::Command& command, const Event& event) noexcept;
    void serve_bus(const mixer::Command& command, const Event& event) noexcept;

  private:
    RuleState& state_;
    ActionRunner& actions_;
};

} // namespace kiai::rules
