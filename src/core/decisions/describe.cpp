// A decision as one line for people.
#include "core/model/number_text.h"

#include <kiai/decision.h>

#include <cmath>

namespace kiai::inline v0 {
namespace {

std::string signed_number(double value) {
    return model::signed_fixed(std::abs(value) < 0.005 ? 0.0 : value, 2); // no "-0.00"
}

std::string of_layers(const Decision& decision) {
    std::string text;
    for (const LayerTake& layer : decision.layers) {
        text += text.empty() ? ", " : " with ";
        if (!layer.label.empty()) text += layer.label + ": ";
        text += layer.clip + " " + signed_number(layer.pitch) + " st " + signed_number(layer.gain) + " dB";
        if (layer.pan != 0) text += " pan " + signed_number(layer.pan);
        if (layer.delay > 0) text += " after " + std::to_string(layer.delay) + " frames";
    }
    return text;
}

std::string nearest(const Decision& decision) {
    return decision.nearest.empty() ? std::string() : "; did you mean \"" + decision.nearest + "\"?";
}

std::string plays(std::uint64_t count) {
    return std::to_string(count) + (count == 1 ? " play" : " plays");
}

/// What was stopped: a sound, or what the action names.
std::string stopped(const Decision& d) {
    if (!d.sound.empty()) return d.sound;
    if (!d.action) return "what it held";
    ActionTaken what = *d.action;
    what.verb = Verb::stop;
    return to_string(what).substr(sizeof "stop");
}

/// `gap (40 ms, minimum 60 ms)`, `limit of sound oak (6 plays, maximum 6, end-oldest)`.
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

/// What kind of name nobody knows.
const char* kind_of_name(const Decision& decision) {
    if (decision.action) {
        static constexpr const char* kinds[] = {"no name",     "no sound or clip", "no bus",  "no scope",
                                                "no sequence", "no name",          "no dial", "no notice"};
        return kinds[static_cast<int>(decision.action->target)];
    }
    switch (decision.trigger) {
    case ReportKind::dial:
        return "no dial";
    case ReportKind::scope_enter:
    case ReportKind::scope_leave:
    case ReportKind::scope_pause:
    case ReportKind::scope_resume:
        return "no scope";
    case ReportKind::zone:
    case ReportKind::zone_gone:
        return "no zone";
    case ReportKind::playhead:
    case ReportKind::playhead_gone:
        return "no motion";
    case ReportKind::bus_gain:
    case ReportKind::bus_mute:
        return "no bus";
    case ReportKind::run:
        return "no sequence";
    default:
        return "no sound or clip";
    }
}

/// What a handle told its play.
std::string told(const Decision& d) {
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
        return "moved " + play + " to " + number + " s of its clip";
    case ReportKind::play_pause:
        return "paused " + play;
    default:
        return "resumed " + play;
    }
}

bool is_told(const Decision& d) {
    return (d.outcome == Outcome::done || d.outcome == Outcome::stopped) && d.trigger >= ReportKind::play_stop &&
           d.trigger <= ReportKind::play_seek;
}

/// What is so now, of a report that needs no binding.
std::string done(ReportKind trigger) {
    switch (trigger) {
    case ReportKind::scope_enter:
        return "is on";
    case ReportKind::scope_leave:
        return "is off";
    case ReportKind::scope_pause:
        return "stands still";
    case ReportKind::scope_resume:
        return "goes on";
    default:
        return "done";
    }
}

/// Of a state that is reported again.
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
        return "256 keys";
    case ReportKind::contact:
        return "1.5 times EngineSettings::reports contacts";
    case ReportKind::body:
        return "512 bodies";
    default:
        return "64 sequences with 256 branches";
    }
}

std::string what(const Decision& d) {
    const std::string which = " #" + std::to_string(d.play);
    switch (d.outcome) {
    case Outcome::played:
        return "played " + d.sound + which + (d.layers.empty() ? ", no layer of it, by chance" : of_layers(d));
    case Outcome::pending:
        return d.sound + " is pending: there is nothing to play yet";
    case Outcome::not_ready:
        return d.sound + " is not ready: its clips belong to a scope that was not loaded";
    case Outcome::refused_gap:
        return "refused " + d.sound + ": " + of_limit(d);
    case Outcome::refused_limit:
        return "refused " + d.sound + ": " + of_limit(d);
    case Outcome::refused_full:
        return "refused " + d.sound + ": the engine has no voice or stream for it";
    case Outcome::stopped:
        if (is_told(d)) return "stopped " + d.sound + (d.play > 0 ? which : " before it began");
        return "stopped " + stopped(d) + ", " + plays(d.count);
    case Outcome::nothing_to_stop:
        return d.sound.empty() ? "nothing to stop: " + (d.action ? to_string(*d.action) : std::string())
                               : "nothing to stop: no play of " + d.sound + " sounds";
    case Outcome::ducked:
        return "ducked bus " + d.bus + " by " + model::general(-static_cast<double>(d.value)) + " dB under bus " +
               d.under;
    case Outcome::duck_over:
        return "ended ducking of bus " + d.bus + " under bus " + d.under;
    case Outcome::insert_off:
        return "the insert of bus " + d.bus + " is bypassed from here on: " + d.rule;
    case Outcome::insert_slow:
        return "the insert of bus " + d.bus + " takes " + model::fixed(100 * static_cast<double>(d.value), 0) +
               " % of the time that its frames last";
    case Outcome::mix_lost:
        return std::to_string(d.count) + " frames of the finished mix lost: call poll() once a frame";
    case Outcome::changed:
        return "project reloaded; unchanged sounds keep playing";
    case Outcome::stolen:
        return d.sound + which +
               (d.other == 0 ? " stolen: lowered " : " stolen for #" + std::to_string(d.other) + ": ") + of_limit(d);
    case Outcome::ended:
        if (d.length == 0) return d.sound + which + " ended before it was heard: " + to_string(d.reason);
        return d.sound + which + " ended: " + to_string(d.reason) + ", peak " +
               model::fixed(std::abs(d.level) < 0.05 ? 0.0 : d.level, 1) + " dBFS, " + std::to_string(d.length) +
               " frames";
    case Outcome::done:
        if (is_told(d)) return told(d);
        return (d.action ? to_string(*d.action) : done(d.trigger)) +
               (d.count > 0 ? ", " + plays(d.count) : std::string());
    case Outcome::not_met:
        return "not done: " + d.rule + (std::isnan(d.value) ? "" : " (it is " + model::general(d.value) + ")");
    case Outcome::scope_off:
        return "not done: its scope is off";
    case Outcome::scope_paused:
        return "not done: its scope is paused";
    case Outcome::lost:
        return d.trigger == ReportKind::contact_end ? "cancelled: input lost or body removed"
                                                    : "cancelled: input lost or zone removed";
    case Outcome::no_end:
        return "refused " + d.sound + ": the contact has no pair number, so nothing would end it";
    case Outcome::too_deep:
        return "cancelled: notices or sequences cause each other without end";
    case Outcome::over:
        return "is over";
    case Outcome::no_zone:
        return "no zone there";
    case Outcome::no_binding:
        return "nothing is bound to it" + nearest(d);
    case Outcome::same_state:
        return same_state(d.trigger);
    case Outcome::unended:
        return std::string("ignored: pressed again, but your app has not reported ") + end_of(d.trigger) +
               " since the last press";
    case Outcome::no_room:
        return std::string("ignored: the engine keeps at most ") + room(d.trigger) + " at once";
    case Outcome::unknown_name:
        if (d.excluded) return '"' + d.on + "\" is in kiai.toml, but an error keeps it out; run kiai check";
        return std::string(kind_of_name(d)) + " is named \"" + d.on + "\"" + nearest(d);
    case Outcome::unknown_value:
        return "no follow of " + d.sound + " has a value \"" + d.on + "\"" + nearest(d);
    case Outcome::stream_late:
        return d.sound + which + " falls silent until more of its clip is read: the disk is too slow";
    case Outcome::bad_number:
        return "left out: a number in it is not finite";
    case Outcome::out_of_range:
        return "a number in it is out of range; the nearest in it is used";
    case Outcome::late:
        return "its frame had passed; served at once";
    case Outcome::calendar_full:
        return "ignored: too many calls wait for a later time (EngineSettings::reports)";
    case Outcome::names_full:
        return std::to_string(d.count) + " reports lost: the app has used more than 65,535 different names";
    case Outcome::ring_full:
        return std::to_string(d.count) + " reports lost: too many came between two blocks";
    case Outcome::log_full:
        return std::to_string(d.count) + " decisions lost: call poll() once a frame";
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
    if (!decision.on.empty() && !is_told(decision) && decision.outcome != Outcome::unknown_name &&
        decision.outcome != Outcome::unknown_value)
        text += " " + decision.on;
    return text + ": " + what(decision);
}

} // namespace kiai::inline v0
