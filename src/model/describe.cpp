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

std::string what(const Decision& d) {
    const std::string which = " #" + std::to_string(d.play);
    switch (d.outcome) {
    case Outcome::played:
        return "played " + d.sound + which + (d.layers.empty() ? ", no layer of it, by chance" : of_layers(d));
    case Outcome::refused_gap:
        return "refused " + d.sound + ": its last start is less than its least gap ago";
    case Outcome::refused_limit:
        return "refused " + d.sound + ": " + d.limit + " is full (" + d.rule + ")";
    case Outcome::refused_full:
        return "refused " + d.sound + ": the engine has no free voice or stream";
    case Outcome::stopped:
        return "stopped " + d.sound + ", " + std::to_string(d.count) + (d.count == 1 ? " play" : " plays");
    case Outcome::nothing_to_stop:
        return "nothing to stop: no play of " + d.sound + " sounds";
    case Outcome::gave_way:
        return d.sound + which + " gave way to #" + std::to_string(d.other) + ": " + d.limit + " is full (" + d.rule +
               ")";
    case Outcome::ended:
        return d.sound + which + " ended: " + to_string(d.reason) + number(", peak %.1f dBFS", d.level) + ", " +
               std::to_string(d.length) + " frames";
    case Outcome::no_zone:
        return "no zone there";
    case Outcome::no_binding:
        return "nothing is bound to it" + nearest(d);
    case Outcome::same_state:
        return "is down already, so nothing begins again until it is let go";
    case Outcome::unknown_name:
        return std::string(d.trigger == ReportKind::dial ? "no dial" : "no sound or clip") + " is named \"" + d.on +
               "\"" + nearest(d);
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
