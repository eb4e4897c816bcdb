// From what happened to the bindings that wait for it.
#include "core/rules/router.h"

namespace kiai::rules {

namespace {
constexpr int deepest = 16; ///< notices that give notices
}

void Router::write(decisions::Record record, Outcome outcome) noexcept {
    record.frame = now_;
    record.outcome = outcome;
    journal_->write(record);
}

/// Each thing that happens has a number of its own in the log.
decisions::Record Router::begin_record(const Event& event) noexcept {
    decisions::Record record;
    record.cause = ++happened_;
    record.from = event.from;
    record.trigger = event.kind;
    record.on = event.name;
    record.on_other = event.other;
    record.point = event.point;
    record.paired = event.holder != 0;
    return record;
}

void Router::say(Outcome outcome, const Event& event) noexcept {
    write(begin_record(event), outcome);
}

void Router::over(Holder holder, const Event& event, std::uint64_t by) noexcept {
    decisions::Record record = begin_record(event);
    if (by != 0) {
        record.cause = by;
        --happened_;
    }
    record.count = static_cast<std::uint64_t>(plays_->stop({mixer::Which::Kind::held, holder}, -1, record.cause, now_));
    if (event.kind == ReportKind::watch) write(record, Outcome::over);
    if (record.count > 0) write(record, Outcome::stopped);
}

void Router::no_branch(const Stepped& stepped) noexcept {
    decisions::Record record = stepped.cause;
    record.trigger = ReportKind::run;
    write(record, Outcome::no_room);
}

void Router::finished(const Stepped& last, int sequence) noexcept {
    decisions::Record record = last.cause;
    record.trigger = ReportKind::run;
    record.on = sequence_names_[static_cast<std::size_t>(sequence)];
    record.on_other = model::no_name;
    write(record, Outcome::over);
}

std::uint64_t Router::happen(const Event& event) noexcept {
    const bool on_its_way = event.kind == ReportKind::enter || event.kind == ReportKind::marker;
    if (on_its_way && bindings_.find(event.kind, event.name, event.other).empty()) return 0;
    const decisions::Record cause = begin_record(event);
    if (event.lost) write(cause, Outcome::lost);
    if (depth_ > 0 && (!affords(cause) || depth_ == deepest)) {
        if (depth_ == deepest) overdraw(cause);
        return cause.cause;
    }
    ++depth_;
    int answered = 0, off = 0;
    const auto answer = [&](const Bound& bound) {
        if ((event.lost && !bound.lost) || (event.repeated && !bound.repeats)) return;
        if (!scopes_.on(bound.scope)) {
            ++off;
            return;
        }
        ++answered;
        act_on(bound, event, cause);
    };
    if (event.binding >= 0) {
        answer(bindings_.at(event.binding));
    } else {
        for (const Bound& bound : bindings_.find(event.kind, event.name, event.other)) answer(bound);
    }
    if (answered == 0 && !event.lost && off > 0) write(cause, Outcome::scope_off);
    if (answered == 0 && off == 0 && !event.quiet && !event.lost) write(cause, Outcome::no_binding);
    --depth_;
    return cause.cause;
}

/// Says at most once a second that one frame causes too much.
void Router::overdraw(const decisions::Record& cause) noexcept {
    if (now_ - overdrawn_ >= plan_.rate()) {
        write(cause, Outcome::too_deep);
        overdrawn_ = now_;
    }
}

/// Whether something may be caused in turn. What one frame causes is bounded as a whole, so that whatever causes itself
/// over and over does not hold up `render`.
bool Router::affords(const decisions::Record& cause) noexcept {
    if (--allowance_ >= 0) return true;
    overdraw(cause);
    return false;
}

bool Router::act_on(const Bound& bound, const Event& event, decisions::Record cause) noexcept {
    cause.binding = bound.number + 1;
    if (scopes_.paused(bound.scope)) {
        write(cause, Outcome::scope_paused);
        return false;
    }
    float value = 0;
    if (const int broken = bound.ruled ? rules_.broken(bound.number, event, *plays_, now_, value) : -1; broken >= 0) {
        cause.clause = static_cast<std::int16_t>(broken);
        cause.value = value;
        write(cause, Outcome::not_met);
        return false;
    }
    for (const model::Action& action : std::span(bound.actions, static_cast<std::size_t>(bound.count)))
        act(action, {event, cause, bound.scope, 0, -1});
    return true;
}

} // namespace kiai::rules
