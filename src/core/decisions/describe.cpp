// Describes a decision in one line for people.
#include "core/model/number_text.h"

#include <kiai/decision.h>

#include <cmath>

namespace kiai::inline v0 {
namespace {

std::string signed_number(double value) {
    return model::signed_fixed(std::abs(value) < 0.005 ? 0.0 : value, 2); // no "-0.00"
}

/// Returns `80 ms` or `1.25 s`.
std::string time_of(Frames frames, const Decision& decision) {
    const double seconds = static_cast<double>(frames) / decision.sample_rate;
    return seconds < 0.9995 ? model::general(std::round(seconds * 10000) / 10) + " ms"
                            : model::fixed(seconds, 2) + " s";
}

std::string of_layers(const Decision& decision) {
    std::string text;
    for (const LayerTake& layer : decision.layers) {
        text += text.empty() ? ", " : " with ";
        if (!layer.label.empty()) text += layer.label + ": ";
        text += layer.clip + " " + signed_number(layer.pitch) + " st " + signed_number(layer.gain) + " dB";
        if (layer.pan != 0) text += " pan " + signed_number(layer.pan);
        if (layer.delay > 0) text += " after " + time_of(layer.delay, decision);
    }
    return text;
}

std::string nearest(const Decision& decision) {
    return decision.nearest.empty() ? std::string() : "; did you mean \"" + decision.nearest + "\"?";
}

std::string plays(std::uint64_t count) {
    return std::to_string(count) + (count == 1 ? " play" : " plays");
}

/// Returns `bus pieces`, `oak` or `everything`.
std::string target_of(const ActionTaken& action) {
    static constexpr const char* kinds[] = {"", "", "bus ", "scope ", "sequence ", "", "dial ", "notice "};
    return action.target == ActionTarget::everything ? "everything"
                                                     : kinds[static_cast<int>(action.target)] + action.name;
}

/// Returns what was stopped: a sound, or the target of the action.
std::string stopped(const Decision& d) {
    return !d.sound.empty() ? d.sound : d.action ? target_of(*d.action) : "what it held";
}

/// Returns `gap (40 ms, minimum 60 ms)`, or `limit of sound oak (6 plays, maximum 6, end-oldest)`.
std::string of_limit(const Decision& d) {
    if (!d.limit) return "limit";
    const LimitReached& limit = *d.limit;
    const auto ms = [](double seconds) { return model::general(std::round(seconds * 10000) / 10) + " ms"; };
    if (limit.kind == LimitReached::Kind::gap)
        return "gap" + (limit.name.empty() || limit.name == d.sound ? "" : " of bus " + limit.name) + " (" +
               ms(limit.measured) + ", minimum " + ms(limit.allowed) + ")";
    std::string numbers;
    if (limit.allowed > 0)
        numbers =
            plays(static_cast<std::uint64_t>(limit.measured)) + ", maximum " + model::general(limit.allowed) + ", ";
    return "limit of " + std::string(limit.kind == LimitReached::Kind::engine ? "the " : "") + to_string(limit) + " (" +
           numbers + to_string(limit.full) + ")";
}

/// Returns the kind of the name that the project does not have.
const char* kind_of_name(const Decision& decision) {
    if (decision.action) {
        static constexpr const char* kinds[] = {"name",     "sound or clip", "bus",  "scope",
                                                "sequence", "name",          "dial", "notice"};
        return kinds[static_cast<int>(decision.action->target)];
    }
    switch (decision.trigger) {
    case ReportKind::dial:
        return "dial";
    case ReportKind::scope_enter:
    case ReportKind::scope_leave:
    case ReportKind::scope_pause:
    case ReportKind::scope_resume:
        return "scope";
    case ReportKind::zone:
    case ReportKind::zone_gone:
        return "zone";
    case ReportKind::playhead:
    case ReportKind::playhead_gone:
        return "motion";
    case ReportKind::bus_gain:
    case ReportKind::bus_mute:
        return "bus";
    case ReportKind::run:
        return "sequence";
    default:
        return "sound or clip";
    }
}

/// Describes a call of a handle.
std::string of_handle(const Decision& d) {
    const std::string play = d.sound + " #" + std::to_string(d.play),
                      number = model::general(d.value == 0 ? 0.0 : static_cast<double>(d.value));
    switch (d.trigger) {
    case ReportKind::play_gain:
        return "set gain of " + play + " to " + number + " dB";
    case ReportKind::play_pitch:
        return "set pitch of " + play + " to " + number + " st";
    case ReportKind::play_pan:
        return "set pan of " + play + " to " + number;
    case ReportKind::play_set:
        return "set " + d.on + " of " + play + " to " + number;
    case ReportKind::play_seek:
        return "set position of " + play + " to " + number + " s";
    case ReportKind::play_pause:
        return "paused " + play;
    default:
        return "resumed " + play;
    }
}

bool is_of_handle(const Decision& d) {
    return (d.outcome == Outcome::done || d.outcome == Outcome::stopped) && d.trigger >= ReportKind::play_stop &&
           d.trigger <= ReportKind::play_seek;
}

/// Describes an action.
std::string done(const ActionTaken& action) {
    switch (action.verb) {
    case Verb::run:
        return "started " + target_of(action);
    case Verb::notice:
        return "gave " + target_of(action);
    case Verb::set:
        return "set " + target_of(action) + " to " + model::general(action.number) +
               (action.target == ActionTarget::dial ? "" : " dB");
    case Verb::nothing:
        return "did nothing (the action is `nothing`)";
    default: {
        static constexpr const char* words[] = {"played", "held",    "toggled", "restarted", "stopped",
                                                "paused", "resumed", "set",     "muted",     "unmuted"};
        return std::string(words[static_cast<int>(action.verb)]) + ' ' + target_of(action);
    }
    }
}

/// Describes a report that needs no binding.
std::string done(const Decision& d) {
    switch (d.trigger) {
    case ReportKind::scope_enter:
        return "started scope";
    case ReportKind::scope_leave:
        return "ended scope";
    case ReportKind::scope_pause:
        return "paused scope";
    case ReportKind::scope_resume:
        return "resumed scope";
    default:
        return "done";
    }
}

/// Describes a state that was reported again.
std::string same_state(ReportKind trigger) {
    switch (trigger) {
    case ReportKind::press:
        return "ignored: already pressed (report release first)";
    case ReportKind::key_down:
        return "ignored: already down (report key_up first)";
    case ReportKind::contact:
        return "ignored: this pair already touches (report contact_end first)";
    case ReportKind::scope_enter:
        return "ignored: the scope is already on";
    case ReportKind::scope_leave:
        return "ignored: the scope is already off";
    case ReportKind::scope_pause:
        return "ignored: the scope is already paused";
    case ReportKind::scope_resume:
        return "ignored: the scope is not paused";
    default:
        return "ignored: no change";
    }
}

const char* end_of(ReportKind trigger) {
    return trigger == ReportKind::press ? "release" : "key_up";
}

const char* room(ReportKind trigger) {
    switch (trigger) {
    case ReportKind::press:
        return "32 pointers";
    case ReportKind::key_down:
        return "128 keys";
    case ReportKind::contact:
        return "1.5 times EngineSettings::reports contacts";
    case ReportKind::body:
        return "512 bodies";
    default:
        return "64 sequences with 256 branches";
    }
}

std::string lost(const Decision& d, const char* what, const char* why) {
    return "lost " + std::to_string(d.count) + ' ' + what + ": " + why;
}

std::string what(const Decision& d) {
    const std::string play = d.sound + " #" + std::to_string(d.play);
    switch (d.outcome) {
    case Outcome::played:
        return "played " + play + (d.layers.empty() ? ", without a layer (chance)" : of_layers(d));
    case Outcome::pending:
        return "ignored: " + d.sound + " is pending and has no takes yet";
    case Outcome::not_ready:
        return "ignored: the clips of " + d.sound + " belong to a scope that is not loaded";
    case Outcome::refused_gap:
    case Outcome::refused_limit:
        return "refused " + d.sound + ": " + of_limit(d);
    case Outcome::refused_full:
        return "refused " + d.sound + ": no voice or stream of the engine is free";
    case Outcome::stopped:
        if (is_of_handle(d)) return d.play > 0 ? "stopped " + play : "stopped " + d.sound + " before it started";
        return "stopped " + stopped(d) + ", " + plays(d.count);
    case Outcome::nothing_to_stop:
        return "ignored: no play of " + stopped(d) + " to stop";
    case Outcome::ducked:
        return "ducked bus " + d.bus + " by " + model::general(-static_cast<double>(d.value)) + " dB under bus " +
               d.under;
    case Outcome::duck_over:
        return "ended ducking of bus " + d.bus + " under bus " + d.under;
    case Outcome::insert_off:
        return "bypassed the insert of bus " + d.bus + ": " + d.rule;
    case Outcome::insert_slow:
        return "measured the insert of bus " + d.bus + " at " + model::fixed(100 * static_cast<double>(d.value), 0) +
               " % of the block time";
    case Outcome::mix_lost:
        return lost(d, "frames of the finished mix", "call poll() once a frame");
    case Outcome::changed:
        return "replaced the project; unchanged sounds keep playing";
    case Outcome::stolen:
        return "stolen " + play + (d.other == 0 ? ", lowered " : " for #" + std::to_string(d.other) + ": ") +
               of_limit(d);
    case Outcome::ended:
        if (d.length == 0) return "ended " + play + " before it was heard: " + to_string(d.reason);
        return "ended " + play + ": " + to_string(d.reason) + ", peak " +
               model::fixed(std::abs(d.level) < 0.05 ? 0.0 : d.level, 1) + " dBFS, " + time_of(d.length, d);
    case Outcome::done:
        if (is_of_handle(d)) return of_handle(d);
        return (d.action ? done(*d.action) : done(d)) + (d.count > 0 ? ", " + plays(d.count) : std::string());
    case Outcome::not_met:
        return "ignored: condition " + d.rule + " is false" +
               (std::isnan(d.value) ? "" : " (value " + model::general(d.value) + ")");
    case Outcome::scope_off:
        return "ignored: its scope is off";
    case Outcome::scope_paused:
        return "ignored: its scope is paused";
    case Outcome::lost:
        return d.trigger == ReportKind::contact_end ? "cancelled: input lost or body removed"
                                                    : "cancelled: input lost or zone removed";
    case Outcome::no_end:
        return "refused " + d.sound + ": the contact has no pair number, so nothing would end the hold";
    case Outcome::too_deep:
        return "cancelled: notices or sequences trigger each other in a loop";
    case Outcome::over:
        return "ended";
    case Outcome::no_zone:
        return "ignored: no zone at this position";
    case Outcome::no_binding:
        return "ignored: no binding" + nearest(d);
    case Outcome::same_state:
        return same_state(d.trigger);
    case Outcome::unended:
        return std::string("ignored: pressed again, but your app has not reported ") + end_of(d.trigger) +
               " since the last press";
    case Outcome::no_room:
        return std::string("ignored: the engine keeps at most ") + room(d.trigger) + " at once";
    case Outcome::unknown_name:
        if (d.excluded) return "ignored: \"" + d.on + "\" has an error in kiai.toml; run kiai check";
        return std::string("ignored: unknown ") + kind_of_name(d) + " \"" + d.on + '"' + nearest(d);
    case Outcome::unknown_value:
        return "ignored: no follow of " + d.sound + " has a value \"" + d.on + '"' + nearest(d);
    case Outcome::stream_late:
        return "paused " + play + ": its clip is not read fast enough";
    case Outcome::bad_number:
        return "ignored: a number of the call is NaN or infinite";
    case Outcome::out_of_range:
        return "clamped a number of the call to its range";
    case Outcome::late:
        return "served at once: its frame had passed";
    case Outcome::calendar_full:
        return "ignored: too many calls wait for a later time (EngineSettings::reports)";
    case Outcome::names_full:
        return lost(d, "calls", "the app has used more than 65,535 different names");
    case Outcome::ring_full:
        return lost(d, "calls", "too many came between two blocks (EngineSettings::reports)");
    case Outcome::log_full:
        return lost(d, "decisions", "call poll() once a frame");
    }
    return {};
}

} // namespace

std::string describe_outcome(const Decision& decision) {
    return what(decision);
}

std::string describe(const Decision& decision) {
    switch (decision.outcome) {
    case Outcome::ended:
    case Outcome::ducked:
    case Outcome::duck_over:
    case Outcome::insert_off:
    case Outcome::insert_slow:
    case Outcome::mix_lost:
    case Outcome::ring_full:
    case Outcome::names_full:
    case Outcome::log_full:
        return what(decision);
    default:
        break;
    }
    std::string text = to_string(decision.trigger);
    if (!decision.on.empty() && !is_of_handle(decision) && decision.outcome != Outcome::unknown_name &&
        decision.outcome != Outcome::unknown_value)
        text += " " + decision.on;
    return text + ": " + what(decision);
}

} // namespace kiai::inline v0
