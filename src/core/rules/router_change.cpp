// How what is going on goes on when the project is changed.
#include "core/rules/router.h"

#include <algorithm>

namespace kiai::rules {
namespace {
constexpr int allowed_by_change = 1 << 16; ///< of what leaving scopes and looking at watches causes
}

decisions::Record Router::make_way(const mixer::Change& change, model::NameId fingerprint, mixer::Plays& plays,
                                   Frames now) noexcept {
    now_ = now;
    plays_ = &plays;
    allowance_ = allowed_by_change;
    for (int scope = 0; scope < scopes_.count() && begun_; ++scope)
        if (scopes_.on(scope) && change.after.project().scopes[static_cast<std::size_t>(scope)].gone) leave(scope, 0);
    Event changed;
    changed.kind = ReportKind::project;
    changed.name = fingerprint;
    decisions::Record record = begin_record(changed);
    record.frame = now;
    record.outcome = Outcome::changed;
    return record;
}

void Router::go_on_from(Router& other, const mixer::Change& change, mixer::Plays& plays, Frames now) noexcept {
    now_ = now;
    plays_ = &plays;
    allowance_ = allowed_by_change;
    happened_ = other.happened_;
    begun_ = other.begun_;
    down_.swap(other.down_);
    winding_.on = other.winding_.on;
    winding_.seconds = other.winding_.seconds;
    winding_.by = other.winding_.by;
    std::copy(other.winding_.ended.begin(), other.winding_.ended.end(), winding_.ended.begin());
    std::copy(other.winding_.ran.begin(), other.winding_.ran.end(), winding_.ran.begin());
    if (!begun_) return; // it begins with the new one
    std::copy(other.paused_at_.begin(), other.paused_at_.end(), paused_at_.begin());
    rules_.go_on_from(other.rules_, change);
    scopes_.go_on_from(other.scopes_);
    zones_.go_on_from(other.zones_);
    pointers_.go_on_from(other.pointers_);
    touches_.go_on_from(other.touches_);
    bodies_.go_on_from(other.bodies_);
    motions_.go_on_from(other.motions_);
    sequences_.go_on_from(other.sequences_, change);
    agenda_.go_on_from(other.agenda_, [&](const Agenda::Entry& entry) {
        if (entry.kind == Agenda::Entry::Kind::timer) return mixer::Change::now(change.bindings, entry.number);
        return sequences_.runs(entry.number) ? entry.number : -1;
    });
    if (!winding_.on)
        timers_.go_on_from(
            other.timers_, change, [&](int scope) { return scopes_.on(scope); }, now);
    for (int scope = 0; scope < other.scopes_.count(); ++scope) // a timer that is new stands still with its scope
        if (scopes_.paused(scope)) agenda_.pause(scope, now);
    watches_.go_on_from(other.watches_, change);
    const auto& scopes = project_.scopes;
    for (std::size_t s = 0; s < scopes.size(); ++s) // zones may have changed their scopes, too
        zones_.show(static_cast<int>(s), scopes_.on(static_cast<int>(s)));
    zones_.show(-1, true);
    for (std::size_t s = other.project_.scopes.size(); s < scopes.size(); ++s)
        if (scopes[s].on) enter(static_cast<int>(s), 0);
    watches_.look(-1, plays, happened_);
    pointers_.look_again();
}

} // namespace kiai::rules
