// Dispatches events to their bindings.
#pragma once

#include "core/rules/action_runner.h"
#include "core/rules/state.h"

namespace kiai::rules {

class EventDispatch {
  public:
    EventDispatch(RuleState& state, ActionRunner& actions) noexcept : state_(state), actions_(actions) {}

    /// See Hub::happen. [rt]
    std::uint64_t happen(const Event& event) noexcept;
    void over(Holder holder, const Event& event, std::uint64_t by) noexcept;

  private:
    bool act_on(const Bound& bound, const Event& event, const decisions::Record& cause) noexcept;

    RuleState& state_;
    ActionRunner& actions_;
    int depth_ = 0; ///< of what causes something in turn
};

} // namespace kiai::rules
