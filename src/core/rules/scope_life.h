// Turns scopes on and off, pauses and continues them, and starts and ends what belongs to them in the right order.
#pragma once

#include "core/rules/state.h"

#include <vector>

namespace kiai::rules {

class ScopeLife {
  public:
    ScopeLife(RuleState& state, Hub& hub) : state_(state), hub_(hub), paused_at_(state.project.scopes.size()) {}

    /// Serves a report about a scope. [rt]
    void serve(const mixer::Command& command, const Event& event) noexcept;
    void enter(int scope, std::uint64_t from) noexcept;
    void leave(int scope, std::uint64_t from) noexcept;
    /// Returns false if the scope already has that state.
    bool pause(int scope, bool on) noexcept;
    void continue_from(const ScopeLife& other) noexcept;

  private:
    RuleState& state_;
    Hub& hub_;
    std::vector<Frames> paused_at_; ///< by scope
};

} // namespace kiai::rules
