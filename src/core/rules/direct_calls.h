// Serves the app's calls without a binding: plays, stops, sequences, gains of buses.
#pragma once

#include "core/rules/action_runner.h"
#include "core/rules/state.h"

#include <optional>

namespace kiai::rules {

class DirectCalls {
  public:
    DirectCalls(RuleState& state, ActionRunner& actions) noexcept : state_(state), actions_(actions) {}

    /// Stops, pauses, resumes or restarts the target of a report. [rt]
    void serve_target(const mixer::Command& command, const Event& event) noexcept;
    /// Serves a report that plays or toggles a sound, or runs a sequence. [rt]
    void serve_play(const mixer::Command& command, const Event& event) noexcept;
    void serve_crossfade(const mixer::Command& command, const Event& event) noexcept;
    void serve_bus(const mixer::Command& command, const Event& event) noexcept;

  private:
    std::optional<mixer::Wanted> wanted(const mixer::Command& command, const Event& event) noexcept;
    void serve_run(const mixer::Command& command, const Event& event) noexcept;
    int find(ActionTarget target, model::NameId name) const noexcept;

    RuleState& state_;
    ActionRunner& actions_;
};

} // namespace kiai::rules
