// Scopes that turn on and off, stand still and go on: what begins and ends with them, and in which order.
#include "core/rules/router.h"

namespace kiai::rules {

void Router::serve_scope(const mixer::Command& command, const Event& event) noexcept {
    const int scope = scopes_.number_of(command.name);
    if (scope < 0) return say(Outcome::unknown_name, event);
    const bool enters = command.report == ReportKind::scope_enter, leaves = command.report == ReportKind::scope_leave;
    if (enters || leaves) {
        if (scopes_.on(scope) == enters) return say(Outcome::same_state, event);
        return enters ? enter(scope, 0) : leave(scope, 0);
    }
    say(pause_scope(scope, command.report == ReportKind::scope_pause) ? Outcome::done : Outcome::same_state, event);
}

void Router::enter(int scope, std::uint64_t from) noexcept {
    scopes_.turn(scope, true);
    rules_.begin(scope);
    Event entered;
    entered.kind = ReportKind::scope_enter;
    entered.name = scopes_.name(scope);
    entered.from = from;
    entered.holder = holder_of(ReportKind::scope_enter, static_cast<std::uint64_t>(scope));
    if (!bindings_.find(entered.kind, entered.name).empty())
        happen(entered);
    else
        say(Outcome::done, entered);
    timers_.begin(scope, now_);
    watches_.look(-1, *plays_, happened_);
    zones_.show(scope, true);
    pointers_.look_again();
}

void Router::leave(int scope, std::uint64_t from) noexcept {
    const Holder holder = holder_of(ReportKind::scope_enter, static_cast<std::uint64_t>(scope));
    pause_scope(scope, false); // what stands still ends like all else
    Event left;
    left.kind = ReportKind::scope_leave;
    left.name = scopes_.name(scope);
    left.from = from;
    std::uint64_t by = 0;
    if (!bindings_.find(left.kind, left.name).empty()) {
        by = happen(left);
    } else {
        say(Outcome::done, left);
        by = happened_;
    }
    const auto fade_frames = project_.scopes[static_cast<std::size_t>(scope)].fade.frames(plan_.rate());
    const double fade = static_cast<double>(fade_frames) / plan_.rate();
    plays_->leave(scope, fade, by, now_); // what is held fades too, instead of ending in its own way
    zones_.show(scope, false);
    pointers_.look_again(); // presses and stays in its zones end
    scopes_.turn(scope, false);
    watches_.forget(scope);
    agenda_.remove_scope(scope);
    sequences_.stop_if([&](int, int of) { return of == scope; }, [](std::uint32_t) {});
    over(holder, left, by);
    plays_->leave(scope, fade, by, now_); // and what began since
}

bool Router::pause_scope(int scope, bool on) noexcept {
    if (!scopes_.pause(scope, on)) return false;
    Frames& since = paused_at_[static_cast<std::size_t>(scope)];
    if (on) {
        since = now_;
        agenda_.pause(scope, now_);
    } else {
        agenda_.resume(scope, now_);
        timers_.shift(scope, now_ - since);
    }
    plays_->pause({mixer::Which::Kind::scope, static_cast<std::uint64_t>(scope)}, mixer::by_scope, on, now_);
    return true;
}

} // namespace kiai::rules
