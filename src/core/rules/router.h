// Routes a report to its bindings' actions. The other classes of this folder find out what happened.
#pragma once

#include "core/rules/action_runner.h"
#include "core/rules/direct_calls.h"
#include "core/rules/event_dispatch.h"
#include "core/rules/key_state.h"
#include "core/rules/rule_swap.h"
#include "core/rules/scope_life.h"
#include "core/rules/snapshot.h"
#include "core/rules/state.h"
#include "core/rules/wind_down.h"

namespace kiai::rules {

class Router final : private Hub, private Player {
  public:
    /// [control] `plan` and `names` must outlive the object.
    Router(const mixer::Plan& plan, model::NameTable& names, const mixer::CoreSettings& settings);
    /// Sets the journal for decisions without a play. Call it before the first `serve`. [control]
    void write_to(mixer::Journal& journal) noexcept { state_.journal = &journal; }

    /// See mixer::Due. [rt]
    void serve(std::span<const mixer::Command* const> commands, mixer::Plays& plays, Frames now) noexcept;
    Frames next(const mixer::Plays& plays, Frames now) const noexcept;
    int running() const noexcept { return state_.sequences.running(); }
    /// Return state for other threads. [any]
    double dial(int dial) const noexcept {
        return state_.dials[static_cast<std::size_t>(dial)].load(std::memory_order_relaxed);
    }
    ScopeState scope(int scope) const noexcept { return state_.scopes.state(scope); }
    ZonePlace zone(int zone) const noexcept { return state_.zones.place(zone); }
    Frames timer(std::size_t binding) const noexcept { return state_.agenda.timer(binding); }

    /// Prepares for a project change: ends what belongs to removed scopes, and writes the change. Returns that record.
    /// [rt]
    decisions::Record make_way(const mixer::Change& change, model::NameId fingerprint, mixer::Plays& plays,
                               Frames now) noexcept {
        return swap_.make_way(change, fingerprint, plays, now);
    }
    /// Continues here what was going on under `other`. [rt]
    void go_on_from(Router& other, const mixer::Change& change, mixer::Plays& plays, Frames now) noexcept {
        swap_.go_on_from(other.swap_, change, plays, now);
    }

  private:
    std::uint64_t happen(const Event& event) noexcept override { return dispatch_.happen(event); }
    void over(Holder holder, const Event& event, std::uint64_t by) noexcept override {
        dispatch_.over(holder, event, by);
    }
    void say(Outcome outcome, const Event& event) noexcept override { state_.say(outcome, event); }
    bool scope_on(int scope) const noexcept override { return state_.scopes.on(scope); }
    int step(const Stepped& stepped) noexcept override { return actions_.step(stepped); }
    void finished(const Stepped& last, int sequence) noexcept override { actions_.finished(last, sequence); }
    void no_branch(const Stepped& stepped) noexcept override { actions_.no_branch(stepped); }

    void begin() noexcept;
    void serve_time() noexcept;
    void ask_ahead(std::span<const mixer::Command* const> group) const noexcept;
    void serve_one(const mixer::Command& command) noexcept;
    void serve_report(const mixer::Command& command, const Event& event) noexcept;
    void serve_handle(const mixer::Command& command, decisions::Record cause) noexcept;
    void serve_zone(const mixer::Command& command, const Event& event) noexcept;
    void serve_counted(const mixer::Command& command) noexcept;
    void serve_playhead(const mixer::Command& command, const Event& event) noexcept;
    void turn(const mixer::Command& command, const Event& event) noexcept;
    void lose_input() noexcept;

    RuleState state_;
    WindDown winding_;
    ScopeLife scope_life_;
    ActionRunner actions_;
    EventDispatch dispatch_;
    KeyState keys_;
    Snapshot snapshot_;
    DirectCalls direct_;
    RuleSwap swap_;
};

} // namespace kiai::rules
