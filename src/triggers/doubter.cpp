#include "triggers/doubter.h"

#include "model/effects.h"

#include <algorithm>
#include <cmath>
#include <cstdio>

namespace kiai::triggers {
namespace {

constexpr std::size_t most_names = 5000, most_stops = 64;
constexpr double frame_time = 0.040; ///< seconds: nobody means a sound that begins anew faster than this, 25 times on
constexpr int most_in_a_row = 25;
constexpr double moment = 0.010;   ///< seconds: what ends sooner is not heard
constexpr int same_often = 12;     ///< the same twelve times running, within
constexpr double same_within = 60; ///< seconds
constexpr int turns_often = 10;    ///< ten times in even steps is a clock
constexpr double even_step = 0.1;  ///< parts by which the steps may differ

std::string fixed(double value, int digits) {
    char text[32];
    std::snprintf(text, sizeof text, "%.*f", digits, value);
    return text;
}

std::string words(const Decision& decision) {
    return std::string(to_string(decision.trigger)) + (decision.on.empty() ? "" : " " + decision.on);
}

/// What lasts as long as something is held may be short.
bool is_let_go(ReportKind kind) noexcept {
    switch (kind) {
    case ReportKind::release:
    case ReportKind::key_up:
    case ReportKind::apart:
    case ReportKind::leave:
    case ReportKind::watch:
    case ReportKind::scope_leave:
    case ReportKind::input_lost:
        return true;
    default:
        return false;
    }
}

} // namespace

void Doubter::take(const Decision& decision, const model::Project& project, bool pointed,
                   const std::function<void(const Finding&)>& sink) {
    if (!project_ || decision.outcome == Outcome::changed) {
        sounds_.clear();
        for (const model::Sound& sound : project.sounds) sounds_.emplace(sound.name, &sound);
    }
    project_ = &project;
    pointed_ = pointed;
    sink_ = &sink;
    switch (decision.outcome) {
    case Outcome::played:
        asked(decision);
        return played(decision);
    case Outcome::refused_gap:
    case Outcome::refused_limit:
        return asked(decision);
    case Outcome::gave_way:
        return gave_way(decision);
    case Outcome::ended:
        return ended(decision);
    case Outcome::no_binding:
        return unanswered(decision);
    case Outcome::stopped:
        if (!decision.sound.empty()) heard_[decision.sound].ended = true;
        stops_[decision.cause] = {decision.frame, decision.trigger};
        if (stops_.size() > most_stops) stops_.erase(stops_.begin());
        return;
    default:
        return;
    }
}

/// By the app itself: physics engines and pointers have rules of their own.
void Doubter::asked(const Decision& decision) {
    if (decision.trigger != ReportKind::play && decision.trigger != ReportKind::notice) return;
    if (asked_.size() >= most_names) asked_.clear();
    Row& row = asked_[{decision.trigger, decision.on}];
    if (row.cause == decision.cause) return;
    const bool next = row.count > 0 && decision.frame > row.last &&
                      static_cast<double>(decision.frame - row.last) <= frame_time * rate_;
    row.count = next ? row.count + 1 : 1;
    row.cause = decision.cause;
    row.last = decision.frame;
    if (row.count >= most_in_a_row)
        say(FindingCode::every_frame, decision.sound,
            words(decision) + " came " + std::to_string(row.count) + " times, each within " +
                fixed(1000 * frame_time, 0) + " ms of the last: it seems to be called in every frame",
            "call it where the thing begins; for as long as it lasts use `hold`, or a loop and its handle",
            decision.binding > 0 ? project_->bindings[static_cast<std::size_t>(decision.binding - 1)].source
                                 : model::Source{});
}

void Doubter::played(const Decision& decision) {
    const model::Sound* const sound = sound_named(decision.sound);
    begun_[decision.play] = {decision.frame, decision.trigger == ReportKind::watch};
    if (!sound) return;
    if (decision.trigger == ReportKind::press && decision.binding > 0 && !pointed_ && decision.point.x == 0 &&
        decision.point.y == 0)
        say(FindingCode::pointer_nowhere, decision.on,
            "zone \"" + decision.on + "\" was pressed at 0, 0, and no pointer has been anywhere else",
            "report a press only where there is a pointer, with its place",
            project_->bindings[static_cast<std::size_t>(decision.binding - 1)].source);
    if (sound->endless()) return;

    std::string what;
    for (const LayerTake& layer : decision.layers)
        what += layer.clip + ' ' + fixed(layer.pitch, 2) + ' ' + fixed(layer.gain, 1) + ' ';
    Heard& heard = heard_[decision.sound];
    const bool same = heard.what == what && static_cast<double>(decision.frame - heard.first) <= same_within * rate_;
    heard.count = same ? heard.count + 1 : 1;
    if (!same) heard.first = decision.frame;
    heard.what = std::move(what);
    if (heard.count >= same_often)
        say(FindingCode::same_again, decision.sound,
            "sound \"" + decision.sound + "\" was heard " + std::to_string(heard.count) + " times running within " +
                fixed(static_cast<double>(decision.frame - heard.first) / rate_, 1) + " s, each time the same",
            "give it more takes, or vary = { pitch = 1, gain = 2 }", sound->source);

    if (decision.trigger == ReportKind::contact || sound->limit.plays == 1)
        return; // they come as they come; none piles up
    Row& row = turns_[{decision.trigger, decision.on + ' ' + decision.sound}];
    const Frames apart = decision.frame - row.last;
    const bool even = row.count > 0 && static_cast<double>(std::abs(apart - row.apart)) <=
                                           even_step * static_cast<double>(std::min(apart, row.apart));
    row.count = even ? row.count + 1 : 1;
    row.last = decision.frame;
    row.apart = apart;
    const double step = static_cast<double>(apart) / rate_, lasts = model::shortest(*project_, *sound);
    if (row.count >= turns_often && step > frame_time && lasts > step)
        say(FindingCode::longer_than_turn, decision.sound,
            "sound \"" + decision.sound + "\" begins every " + fixed(step, 2) + " s and lasts " + fixed(lasts, 2) +
                " s, so that its plays pile up",
            "use a shorter clip, begin it less often, or give it limit = { plays = 1 }", sound->source);
}

void Doubter::gave_way(const Decision& decision) {
    const model::Sound* const sound = sound_named(decision.sound);
    const bool own = decision.limit == "sound " + decision.sound;
    if (sound && sound->endless() && own && !heard_[decision.sound].ended)
        say(FindingCode::loop_unended, decision.sound,
            "sound \"" + decision.sound +
                "\" loops without end, was begun more often than its limit allows, and never stopped",
            "keep its handle and stop it, or bind it with `hold`", sound->source);
}

void Doubter::ended(const Decision& decision) {
    const auto begun = begun_.find(decision.play);
    if (begun == begun_.end()) return;
    const auto [begin, by_watch] = begun->second;
    begun_.erase(begun);
    if (decision.reason == EndReason::gave_way) return;
    if (decision.reason != EndReason::finished) heard_[decision.sound].ended = true;
    const model::Sound* const sound = sound_named(decision.sound);
    if (decision.reason != EndReason::stopped || !sound) return;
    const auto stop = stops_.find(decision.ended_by);
    if (by_watch || (stop != stops_.end() && is_let_go(stop->second.second))) return;
    const auto shortest_fade = static_cast<Frames>(0.005 * rate_);
    const Frames told = stop != stops_.end() ? stop->second.first
                                             : decision.frame - std::max(shortest_fade, sound->fade_out.frames(rate_));
    if (static_cast<double>(told - begin) <= moment * rate_)
        say(FindingCode::play_and_stop, decision.sound,
            "sound \"" + decision.sound + "\" was told to stop " +
                fixed(1000 * static_cast<double>(std::max<Frames>(0, told - begin)) / rate_, 0) +
                " ms after it began, so that nothing of it is heard",
            "stop it when the thing ends; to stop the one before, use `restart` or a limit", sound->source);
}

void Doubter::unanswered(const Decision& decision) {
    if (decision.trigger != ReportKind::contact && decision.trigger != ReportKind::notice) return;
    say(FindingCode::nothing_bound, decision.on, words(decision) + " came, and nothing is bound to it",
        decision.nearest.empty() ? "bind it, or leave it: action = { nothing = true }"
                                 : "did you mean \"" + decision.nearest + "\"?",
        {});
}

void Doubter::say(FindingCode code, const std::string& about, const std::string& sentence, const std::string& mend,
                  model::Source source) {
    if (said_.size() >= most_names || !said_.insert({code, about}).second) return;
    Finding finding{code, usual_severity(code), project_->file, source.line, source.column, sentence, mend, about, {},
                    {}};
    for (const model::Acceptance& one : project_->accepted)
        if (one.code == to_string(code) && (one.on.empty() || one.on == about)) finding.accepted = one.reason;
    if (*sink_) (*sink_)(finding);
}

const model::Sound* Doubter::sound_named(const std::string& name) const {
    const auto found = sounds_.find(name);
    return found == sounds_.end() ? nullptr : found->second;
}

} // namespace kiai::triggers
