#include "core/rules/rule_swap.h"

namespace kiai::rules {

namespace {
constexpr int allowed_by_change = 1 << 16; ///< of what leaving scopes and looking at watches causes
}

decisions::Record RuleSwap::make_way(const mixer::Change& change, model::NameId fingerprint, mixer::Plays& plays,
                                     Frames now) noexcept {
    state_.now = now;
    state_.plays = &plays;
    state_.allowance = allowed_by_change;
    for (int scope = 0; scope < state_.scopes.count() && state_.begun; ++scope)
        if (state_.scopes.on(scope) && change.after.project().scopes[static_cast<std::size_t>(scope)].gone)
            scope_life_.leave(scope, 0);
    Event changed;
    changed.kind = ReportKind::project;
    changed.name = fingerprint;
    decisions::Record record = state_.begin_record(changed);
    record.frame = now;
    record.outcome = Outcome::changed;
    return record;
}

void RuleSwap::go_on_from(RuleSwap& other, const mixer::Change& change, mixer::Plays& plays, Frames now) noexcept {
    state_.now = now;
    state_.plays = &plays;
    state_.allowance = allowed_by_change;
    state_.happened = other.state_.happened;
    state_.begun = other.state_.begun;
    keys_.continue_from(other.keys_);
    winding_.continue_from(other.winding_);
    for (std::size_t d = 0; d < state_.dials.size(); ++d)
        state_.dials[d].store(plays.dial(static_cast<int>(d)), std::memory_order_relaxed);
    if (!state_.begun) return; // it begins with the new one
    scope_life_.continue_from(other.scope_life_);
    state_.rules.go_on_from(other.state_.rules, change);
    state_.scopes.go_on_from(other.state_.scopes);
    state_.zones.go_on_from(other.state_.zones);
    state_.pointers.go_on_from(other.state_.pointers);
    state_.touches.go_on_from(other.state_.touches);
    state_.bodies.go_on_from(other.state_.bodies);
    state_.motions.go_on_from(other.state_.motions);
    state_.sequences.go_on_from(other.state_.sequences, change);
    state_.agenda.go_on_from(other.state_.agenda, [&](const Agenda::Entry& entry) {
        if (entry.kind == Agenda::Entry::Kind::timer) return mixer::Change::now(change.bindings, entry.number);
        return state_.sequences.runs(entry.number) ? entry.number : -1;
    });
    if (!winding_.on())
        state_.timers.go_on_from(
            other.state_.timers, change, [&](int scope) { return state_.scopes.on(scope); }, now);
    for (int scope = 0; scope < other.state_.scopes.count(); ++scope) // a timer that is new is paused with its scope
        if (state_.scopes.paused(scope)) state_.agenda.pause(scope, now);
    state_.watches.go_on_from(other.state_.watches, change);
    const auto& scopes = state_.project.scopes;
    for (std::size_t s = 0; s < scopes.size(); ++s) // zones may have changed their scopes, too
        state_.zones.show(static_cast<int>(s), state_.scopes.on(static_cast<int>(s)));
    state_.zones.show(-1, true);
    for (std::size_t s = other.state_.project.scopes.size(); s < scopes.size(); ++s)
        if (scopes[s].on) scope_life_.enter(static_cast<int>(s), 0);
    state_.watches.look(-1, plays, state_.happened);
    state_.pointers.look_again();
}

} // namespace kiai::rules
