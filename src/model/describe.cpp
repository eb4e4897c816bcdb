// A decision as one line for people.
#include <kiai/decision.h>

#include <cmath>
#include <cstdio>

namespace kiai::inline v0 {
namespace {

std::string number(const char* format, double value) {
    char text[32];
    std::snprintf(text, sizeof text, format, std::abs(value) < 0.005 ? 0.0 : value); // no "-0.00"
    return text;
}

std::string of_layers(const Decision& decision) {
    std::string text;
    for (const LayerTake& layer : decision.layers) {
        text += text.empty() ? ", " : " with ";
        text += layer.clip + number(" %+.2f st", layer.pitch) + number(" %+.2f dB", layer.gain);
        if (layer.pan != 0) text += number(" pan %+.2f", layer.pan);
        if (layer.delay > 0) text += " after " + std::to_string(layer.delay) + " frames";
    }
    return text;
}

std::string nearest(const Decision& decision) {
    return decision.nearest.empty() ? std::string() : "; nearest: \"" + decision.nearest + "\"";
}

std::string plays(std::uint64_t count) {
    return std::to_string(count) + (count == 1 ? " play" : " plays");
}

/// What was stopped: a sound, or what the action names.
std::string stopped(const Decision& d) {
    if (d.sound.empty() && d.action.empty()) return "what it held";
    const std::size_t verb = d.action.find(' ');
    return !d.sound.empty() || verb == std::string::npos ? d.sound : d.action.substr(verb + 1);
}

/// What kind of name nobody knows.
const char* kind_of_name(ReportKind trigger) {
    switch (trigger) {
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
        return "refused " + d.sound + ": its last start is less than its least gap ago";
    case Outcome::refused_limit:
        return "refused " + d.sound + ": " + d.limit + " is full (" + d.rule + ")";
    case Outcome::refused_full:
        return "refused " + d.sound + ": the engine has no voice or stream for it";
    case Outcome::stopped:
        return "stopped " + stopped(d) + ", " + plays(d.count);
    case Outcome::nothing_to_stop:
        return d.sound.empty() ? "nothing to stop: " + d.action : "nothing to stop: no play of " + d.sound + " sounds";
    case Outcome::changed:
        return "the project is another now; what is the same in it goes on";
    case Outcome::gave_way:
        if (d.other == 0) return d.sound + which + " gave way: " + d.limit + " was lowered (" + d.rule + ")";
        return d.sound + which + " gave way to #" + std::to_string(d.other) + ": " + d.limit + " is full (" + d.rule +
               ")";
    case Outcome::ended:
        return d.sound + which + " ended: " + to_string(d.reason) + number(", peak %.1f dBFS", d.level) + ", " +
               std::to_string(d.length) + " frames";
    case Outcome::done:
        return (d.action.empty() ? done(d.trigger) : d.action) + (d.count > 0 ? ", " + plays(d.count) : std::string());
    case Outcome::not_met:
        return "not done: " + d.rule + (std::isnan(d.value) ? "" : number(" (it is %g)", d.value));
    case Outcome::scope_off:
        return "not done: its scope is off";
    case Outcome::scope_paused:
        return "not done: its scope is paused";
    case Outcome::lost:
        return "ended without the app's saying so: input or zone is gone";
    case Outcome::no_end:
        return "refused " + d.sound + ": the contact has no pair number, so nothing would end it";
    case Outcome::too_deep:
        return "left out: notices give each other without end";
    case Outcome::over:
        return "is over";
    case Outcome::no_zone:
        return "no zone there";
    case Outcome::no_binding:
        return "nothing is bound to it" + nearest(d);
    case Outcome::same_state:
        return "is down already, so nothing begins again until it is let go";
    case Outcome::unknown_name:
        return std::string(kind_of_name(d.trigger)) + " is named \"" + d.on + "\"" + nearest(d);
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
    case Outcome::ring_full:
        return std::to_string(d.count) + " reports lost: too many came between two blocks";
    case Outcome::log_full:
        return std::to_string(d.count) + " decisions lost: call poll() once a frame";
    }
    return {};
}

} // namespace

std::string describe(const Decision& decision) {
    if (decision.outcome == Outcome::ended || decision.outcome == Outcome::ring_full ||
        decision.outcome == Outcome::log_full)
        return what(decision);
    std::string text = to_string(decision.trigger);
    if (!decision.on.empty() && decision.outcome != Outcome::unknown_name && decision.outcome != Outcome::unknown_value)
        text += " " + decision.on;
    return text + ": " + what(decision);
}

} // namespace kiai::inline v0
