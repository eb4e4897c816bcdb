// Continues what is going on when the project changes.
#pragma once

#include "core/mixer/change.h"
#include "core/rules/key_state.h"
#include "core/rules/scope_life.h"
#include "core/rules/state.h"
#include "core/rules/wind_down.h"

namespace kiai::rules {

class RuleSwap {
  public:
    RuleSwap(RuleState& state, ScopeLife& scope_life, KeyState& keys, WindDown& winding) noexcept
        : state_(state), scope_life_(scope_life), keys_(keys), winding_(winding) {}

    /// See Router. [rt]
    decisions::Record make_way(const mixer::Change& change, model::NameId fingerprint, mixer::Plays& plays,
                               Frames now) noexcept;
    void go_on_from(RuleSwap& other, const mixer::Change& change, mixer::Plays& plays, Frames now) noexcept;

  private:
    RuleState& state_;
    ScopeLife& scope_life_;
    KeyState& keys_;
    WindDown& winding_;
};

} // namespace kiai::rules
