#include "core/rules/event_dispatch.h"

namespace kiai::rules {

namespace {
constexpr int deepest = 16; ///< notices that give notices
}

void EventDispatch::over(Holder holder, const Event& event, std::uint64_t by) noexcept {
    decisions::Record record = state_.begin_record(event);
    if (by != 0) {
        record.cause = by;
        --state_.happened;
    }
    record.count = static_cast<std::uint64_t>(
        state_.plays->stop({mixer::Which::Kind::held, holder}, -1, record.cause, state_.now));
    if (event.kind == ReportKind::watch) state_.write(record, Outcome::over);
    if (record.count > 0) state_.write(record, Outcome::stopped);
}

std::uint64_t EventDispatch::happen(const Event& event) noexcept {
    const bool on_its_way = event.kind == ReportKind::enter || event.kind == ReportKind::marker;
    if (on_its_way && state_.bindings.find(event.kind, event.name, event.other).empty()) return 0;
    const decisions::Record cause = state_.begin_record(event);
    if (event.lost) state_.write(cause, Outcome::lost);
    if (depth_ > 0 && (!state_.affords(cause) || depth_ == deepest)) {
        if (depth_ == deepest) state_.overdraw(cause);
        return cause.cause;
    }
    ++depth_;
    int answered = 0, off = 0;
    const auto answer = [&](const Bound& bound) {
        if ((event.lost && !bound.lost) || (event.repeated && !bound.repeats)) return;
        if (!state_.scopes.on(bound.scope)) {
            ++off;
            return;
        }
        ++answered;
        act_on(bound, event, cause);
    };
    if (event.binding >= 0) {
        answer(state_.bindings.at(event.binding));
    } else {
        for (const Bound& bound : state_.bindings.find(event.kind, event.name, event.other)) answer(bound);
    }
    if (answered == 0 && !event.lost && off > 0) state_.write(cause, Outcome::scope_off);
    if (answered == 0 && off == 0 && !event.quiet && !event.lost) state_.write(cause, Outcome::no_binding);
    --depth_;
    return cause.cause;
}

bool EventDispatch::act_on(const Bound& bound, const Event& event, const decisions::Record& cause) noexcept {
    ActionContext context{event, cause, bound.scope, 0, -1};
    context.cause.binding = bound.number + 1;
    if (state_.scopes.paused(bound.scope)) {
        state_.write(context.cause, Outcome::scope_paused);
        return false;
    }
    float value = 0;
    if (const int broken =
            bound.ruled ? state_.rules.broken(bound.number, event, *state_.plays, state_.now, value) : -1;
        broken >= 0) {
        context.cause.clause = static_cast<std::int16_t>(broken);
        context.cause.value = value;
        state_.write(context.cause, Outcome::not_met);
        return false;
    }
    for (const model::Action& action : bound.actions()) actions_.act(action, context);
    return true;
}

} // namespace kiai::rules
