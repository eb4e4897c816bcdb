#include "workshop/draw/rehearsal_rows.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>

namespace kiai::workshop {
namespace {

constexpr Frames cell = 64;

/// The rows of triggers, from the top.
constexpr ReportKind order[] = {ReportKind::scope_enter, ReportKind::press,  ReportKind::enter,    ReportKind::key_down,
                                ReportKind::contact,     ReportKind::marker, ReportKind::watch,    ReportKind::notice,
                                ReportKind::start,       ReportKind::after,  ReportKind::every,    ReportKind::ended,
                                ReportKind::run,         ReportKind::play,   ReportKind::toggle,   ReportKind::stop,
                                ReportKind::pause,       ReportKind::resume, ReportKind::bus_gain, ReportKind::bus_mute,
                                ReportKind::restart};

SoundRow& row_of(RehearsalRows& rows, const std::string& sound) {
    const auto found =
        std::find_if(rows.sounds.begin(), rows.sounds.end(), [&](const SoundRow& row) { return row.name == sound; });
    if (found != rows.sounds.end()) return *found;
    rows.sounds.emplace_back().name = sound;
    return rows.sounds.back();
}

std::string label(const Decision& decision) {
    std::string text;
    for (const LayerTake& layer : decision.layers)
        text += (text.empty() ? "" : " · ") + layer.clip +
                fmt::format(" {:+.1f} st {:+.0f} dB", std::round(layer.pitch * 10) / 10 + 0.0,
                            std::round(layer.gain) + 0.0); // no "-0"
    return text;
}

void sort_span(RehearsalRows& rows, const Decision& decision);

void sort_decision(RehearsalRows& rows, const Decision& decision) {
    if (decision.cause > 0) {
        auto [at, added] = rows.causes.try_emplace(
            decision.cause,
            Cause{decision.frame, decision.trigger, decision.outcome == Outcome::no_zone ? "no zone" : decision.on,
                  false, row_for(decision.trigger) != decision.trigger || decision.outcome == Outcome::over});
        at->second.answered = at->second.answered || decision.outcome == Outcome::played ||
                              decision.outcome == Outcome::stopped || decision.outcome == Outcome::done ||
                              decision.outcome == Outcome::over || decision.outcome == Outcome::lost;
    }
    sort_span(rows, decision);
    switch (decision.outcome) {
    case Outcome::played:
        row_of(rows, decision.sound)
            .trails.push_back(
                {decision.play, decision.cause, decision.frame, decision.frame, false, 0, label(decision), {}, 0});
        break;
    case Outcome::ended:
        for (Trail& trail : row_of(rows, decision.sound).trails)
            if (trail.play == decision.play) {
                trail.end = decision.frame;
                trail.stolen = decision.reason == EndReason::stolen;
                trail.ended_by = decision.ended_by;
                trail.peak = decision.level;
            }
        break;
    case Outcome::refused_gap:
    case Outcome::refused_limit:
    case Outcome::refused_full:
        row_of(rows, decision.sound).refusals.push_back({decision.frame, decision.cause, decision.outcome});
        break;
    default:
        break;
    }
}

void open_span(RehearsalRows& rows, ReportKind row, const std::string& name, const Decision& decision) {
    for (const TimeSpan& span : rows.spans)
        if (span.kind == row && span.name == name && span.cause == decision.cause) return;
    rows.spans.push_back({row, name, decision.cause, decision.frame, std::numeric_limits<Frames>::max(), {}});
}

/// Closes the newest open span with that name; a sequence is identified by its trigger.
void close_span(RehearsalRows& rows, ReportKind row, const Decision& decision) {
    for (auto span = rows.spans.rbegin(); span != rows.spans.rend(); ++span)
        if (span->kind == row && span->name == decision.on && span->end == std::numeric_limits<Frames>::max() &&
            (row != ReportKind::run || span->cause == decision.cause)) {
            span->end = decision.frame;
            return;
        }
}

void sort_span(RehearsalRows& rows, const Decision& decision) {
    const bool off = decision.outcome == Outcome::same_state || decision.outcome == Outcome::scope_off;
    if (decision.trigger == ReportKind::scope_enter && !off)
        open_span(rows, ReportKind::scope_enter, decision.on, decision);
    if (decision.trigger == ReportKind::scope_leave && !off) close_span(rows, ReportKind::scope_enter, decision);
    if (decision.trigger == ReportKind::watch && decision.outcome != Outcome::over && decision.binding > 0 &&
        decision.outcome != Outcome::ended)
        open_span(rows, ReportKind::watch, decision.on, decision);
    if (decision.outcome == Outcome::done && decision.action && decision.action->verb == Verb::run)
        open_span(rows, ReportKind::run, decision.action->name, decision);
    if (decision.outcome == Outcome::done && decision.trigger == ReportKind::run)
        open_span(rows, ReportKind::run, decision.on, decision);
    if (decision.outcome == Outcome::played && decision.action && decision.action->verb == Verb::hold &&
        decision.trigger != ReportKind::watch && decision.trigger != ReportKind::scope_enter)
        open_span(rows, decision.trigger, decision.on, decision);
    if (row_for(decision.trigger) != decision.trigger && decision.trigger != ReportKind::scope_leave &&
        (decision.outcome == Outcome::stopped || decision.outcome == Outcome::lost))
        close_span(rows, row_for(decision.trigger), decision);
    if (decision.outcome == Outcome::over) close_span(rows, decision.trigger, decision);
    if (decision.outcome == Outcome::ducked || decision.outcome == Outcome::duck_over)
        for (TimeSpan& span : rows.spans) // a bus is ducked once at a time
            if (span.bus == decision.bus && span.end == std::numeric_limits<Frames>::max()) span.end = decision.frame;
    if (decision.outcome == Outcome::ducked)
        rows.spans.push_back({ReportKind::bus_gain, fmt::format("{} {:+g} dB", decision.bus, decision.value), 0,
                              decision.frame, std::numeric_limits<Frames>::max(), decision.bus});
}

/// Removes what is entirely before or after the drawn part.
void leave_out_the_rest(RehearsalRows& rows) {
    const auto outside = [&](Frames begin, Frames end) { return end < rows.from || begin > rows.to; };
    std::erase_if(rows.causes, [&](const auto& cause) { return outside(cause.second.frame, cause.second.frame); });
    for (SoundRow& row : rows.sounds) {
        std::erase_if(row.trails, [&](const Trail& trail) { return outside(trail.begin, trail.end); });
        std::erase_if(row.refusals, [&](const Refusal& refusal) { return outside(refusal.frame, refusal.frame); });
    }
    for (TimeSpan& span : rows.spans) span.end = std::min(span.end, rows.to);
    std::erase_if(rows.spans, [&](const TimeSpan& span) { return outside(span.begin, span.end); });
    std::erase_if(rows.sounds, [](const SoundRow& row) { return row.trails.empty() && row.refusals.empty(); });
}

/// Gives each trail the first lane that is free at its start.
void give_lanes(SoundRow& row, int most, Frames apart) {
    std::vector<Frames> free_from;
    for (Trail& trail : row.trails) {
        auto lane = std::find_if(free_from.begin(), free_from.end(), [&](Frames free) { return free <= trail.begin; });
        if (lane == free_from.end() && static_cast<int>(free_from.size()) < most)
            lane = free_from.insert(free_from.end(), 0);
        if (lane == free_from.end()) --lane;
        *lane = std::max(*lane, trail.end + apart);
        trail.lane = static_cast<int>(lane - free_from.begin());
    }
    row.lanes = std::max<int>(1, static_cast<int>(free_from.size()));
}

} // namespace

ReportKind row_for(ReportKind kind) noexcept {
    switch (kind) {
    case ReportKind::scope_leave:
    case ReportKind::scope_pause:
    case ReportKind::scope_resume:
        return ReportKind::scope_enter;
    case ReportKind::release:
        return ReportKind::press;
    case ReportKind::leave:
        return ReportKind::enter;
    case ReportKind::key_up:
        return ReportKind::key_down;
    case ReportKind::contact_end:
        return ReportKind::contact;
    default:
        return kind;
    }
}

const char* row_name(ReportKind row) noexcept {
    return row == ReportKind::scope_enter ? "scope"
           : row == ReportKind::run       ? "sequence"
           : row == ReportKind::bus_gain  ? "bus"
                                          : to_string(row);
}

RehearsalRows sort_into_rows(const Rehearsal& rehearsal, Frames from, Frames to, int most_lanes) {
    RehearsalRows rows;
    rows.from = from;
    rows.to = std::max(from + 1, to);
    rows.rate = rehearsal.sample_rate;
    for (const Decision& decision : rehearsal.decisions) sort_decision(rows, decision);
    leave_out_the_rest(rows);
    for (const ReportKind kind : order) {
        const bool caused = std::any_of(rows.causes.begin(), rows.causes.end(),
                                        [&](const auto& cause) { return row_for(cause.second.kind) == kind; });
        const bool lasted =
            std::any_of(rows.spans.begin(), rows.spans.end(), [&](const TimeSpan& span) { return span.kind == kind; });
        if (caused || lasted) rows.kinds.push_back(kind);
    }

    std::map<std::uint32_t, Trail*> by_play;
    for (SoundRow& row : rows.sounds) {
        give_lanes(row, most_lanes, (rows.to - rows.from) / 400);
        for (Trail& trail : row.trails) by_play[trail.play] = &trail;
    }
    for (const PlayLevel& level : rehearsal.levels) {
        const auto found = by_play.find(level.play);
        if (found == by_play.end()) continue;
        Trail& trail = *found->second;
        const auto at = static_cast<std::size_t>(level.frame / cell - trail.begin / cell);
        if (trail.levels.size() <= at) trail.levels.resize(at + 1, 0);
        trail.levels[at] = std::max(trail.levels[at], level.peak);
    }
    if (rehearsal.levels.empty()) // a log contains only the peak
        for (const auto& [play, trail] : by_play) trail->levels = {std::pow(10.0f, trail->peak / 20)};
    return rows;
}

} // namespace kiai::workshop
