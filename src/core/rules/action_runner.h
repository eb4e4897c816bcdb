// Carries out what bindings, sequences and the app's calls request.
#pragma once

#include "core/rules/scope_life.h"
#include "core/rules/state.h"
#include "core/rules/wind_down.h"

namespace kiai::rules {

/// The circumstances of an action.
struct ActionContext {
    const Event& event;
    decisions::Record cause;
    int scope = -1;
    std::uint32_t run = 0;
    int branch = -1;
};

class ActionRunner {
  public:
    ActionRunner(RuleState& state, Hub& hub, ScopeLife& scope_life, WindDown& winding) noexcept
        : state_(state), hub_(hub), scope_life_(scope_life), winding_(winding) {}

    /// Carries out an action and writes the result, with the action's number in `context`. Returns how many plays
    /// started. [rt]
    int act(const model::Action& action, ActionContext& context) noexcept;
    /// The same for a call of the app, which has no action in the project. [rt]
    int carry_out(const model::Action& action, const ActionContext& context) noexcept;
    /// Restarts a target. [rt]
    void restart(const model::Action& action, const ActionContext& context) noexcept;
    /// Carries out a step of a sequence in the same way. [rt]
    int step(const Stepped& stepped) noexcept;
    void stop_sound(int sound, double seconds, decisions::Record cause,
                    FadeCurve curve = FadeCurve::equal_gain) noexcept;
    bool run(int sequence, const ActionContext& context) noexcept;
    void set_dial(int dial, double value, std::uint64_t from) noexcept;
    /// Writes that a sequence has ended, or found no room for a branch. [rt]
    void finished(const Stepped& last, int sequence) noexcept;
    void no_branch(const Stepped& stepped) noexcept;

  private:
    bool restart_sound(int index, int within, const ActionContext& context) noexcept;
    int play(const model::Action& action, const ActionContext& context, Holder holder) noexcept;
    int no_end(int sound, decisions::Record cause) noexcept;
    void stop(const model::Action& action, const ActionContext& context) noexcept;
    int stop_sequences(int sequence, double seconds, std::uint64_t by) noexcept;
    int pause(const model::Action& action, bool on) noexcept;
    void set(const model::Action& action, std::uint64_t from) noexcept;
    void mute(const model::Action& action, bool on) noexcept;

    RuleState& state_;
    Hub& hub_;
    ScopeLife& scope_life_;
    WindDown& winding_;
};

} // namespace kiai::rules
