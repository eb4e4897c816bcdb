#include "core/rules/scope_life.h"

#include <algorithm>

namespace kiai::rules {

void ScopeLife::serve(const mixer::Command& command, const Event& event) noexcept {
    const int scope = state_.scopes.number_of(command.name);
    if (scope < 0) return state_.say(Outcome::unknown_name, event);
    const bool enters = command.report == ReportKind::scope_enter, leaves = command.report == ReportKind::scope_leave;
    if (enters || leaves) {
        if (state_.scopes.on(scope) == enters) return state_.say(Outcome::same_state, event);
        return enters ? enter(scope, 0) : leave(scope, 0);
    }
    state_.say(pause(scope, command.report == ReportKind::scope_pause) ? Outcome::done : Outcome::same_state, event);
}

void ScopeLife::enter(int scope, std::uint64_t from) noexcept {
    state_.scopes.turn(scope, true);
    state_.rules.begin(scope);
    Event entered;
    entered.kind = ReportKind::scope_enter;
    entered.name = state_.scopes.name(scope);
    entered.from = from;
    entered.holder = holder_of(ReportKind::scope_enter, static_cast<std::uint64_t>(scope));
    if (!state_.bindings.find(entered.kind, entered.name).empty())
        hub_.happen(entered);
    else
        state_.say(Outcome::done, entered);
    state_.timers.begin(scope, state_.now);
    state_.watches.look(-1, *state_.plays, state_.happened);
    state_.zones.show(scope, true);
    state_.pointers.look_again();
}

void ScopeLife::leave(int scope, std::uint64_t from) noexcept {
    const Holder holder = holder_of(ReportKind::scope_enter, static_cast<std::uint64_t>(scope));
    pause(scope, false); // what is paused ends like all else
    Event left;
    left.kind = ReportKind::scope_leave;
    left.name = state_.scopes.name(scope);
    left.from = from;
    std::uint64_t by = 0;
    if (!state_.bindings.find(left.kind, left.name).empty()) {
        by = hub_.happen(left);
    } else {
        state_.say(Outcome::done, left);
        by = state_.happened;
    }
    const auto fade_frames = state_.project.scopes[static_cast<std::size_t>(scope)].fade.frames(state_.plan.rate());
    const double fade = static_cast<double>(fade_frames) / state_.plan.rate();
    state_.plays->leave(scope, fade, by, state_.now); // what is held fades too, instead of ending in its own way
    state_.zones.show(scope, false);
    state_.pointers.look_again(); // presses and stays in its zones end
    state_.scopes.turn(scope, false);
    state_.watches.forget(scope);
    state_.agenda.remove_scope(scope);
    state_.sequences.stop_if([&](int, int of) { return of == scope; }, [](std::uint32_t) {});
    hub_.over(holder, left, by);
    state_.plays->leave(scope, fade, by, state_.now); // and what began since
}

bool ScopeLife::pause(int scope, bool on) noexcept {
    if (!state_.scopes.pause(scope, on)) return false;
    Frames& since = paused_at_[static_cast<std::size_t>(scope)];
    if (on) {
        since = state_.now;
        state_.agenda.pause(scope, state_.now);
    } else {
        state_.agenda.resume(scope, state_.now);
        state_.timers.shift(scope, state_.now - since);
    }
    state_.plays->pause({mixer::Which::Kind::scope, static_cast<std::uint64_t>(scope)}, mixer::by_scope, on,
                        state_.now);
    return true;
}

void ScopeLife::continue_from(const ScopeLife& other) noexcept {
    std::copy(other.paused_at_.begin(), other.paused_at_.end(), paused_at_.begin());
}

} // namespace kiai::rules
