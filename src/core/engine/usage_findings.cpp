#include "core/engine/usage_findings.h"

#include "core/model/effects.h"
#include "core/model/key_codes.h"
#include "core/model/number_text.h"

#include <algorithm>
#include <cmath>

namespace kiai::engine {
namespace {

using model::fixed;

constexpr std::size_t most_names = 5000, most_stops = 64;
constexpr double frame_time = 0.040; ///< seconds: 25 restarts in a row at this rate or faster are a mistake
constexpr int most_in_a_row = 25;
constexpr int burst = 8, most_bursts = 3; ///< length of a row of starts, and how many rows are a mistake
constexpr double moment = 0.010;          ///< seconds: what ends sooner is not heard
constexpr int same_often = 12;            ///< the same twelve times running, within
constexpr double same_within = 60;        ///< seconds
constexpr int turns_often = 10;           ///< ten times in even steps is a clock
constexpr double even_step = 0.1;         ///< parts by which the steps may differ
constexpr double near_a_limit = 0.75;     ///< of what there is

std::string words(const Decision& decision) {
    return std::string(to_string(decision.trigger)) + (decision.on.empty() ? "" : " " + decision.on);
}

/// Returns true for an end of something that is held, which may be short.
bool is_let_go(ReportKind kind) noexcept {
    switch (kind) {
    case ReportKind::release:
    case ReportKind::key_up:
    case ReportKind::contact_end:
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

void UsageFindings::take(const Decision& decision, const model::Project& project, bool pointed,
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
    case Outcome::unended:
        return unended(decision);
    case Outcome::stolen:
        return stolen(decision);
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

void UsageFindings::look(const Load& load, bool live, const model::Project& project,
                         const std::function<void(const Finding&)>& sink) {
    project_ = &project;
    sink_ = &sink;
    const auto near = [&](const char* what, int used, int most, const char* fix) {
        if (most > 0 && used > most * near_a_limit)
            say(FindingCode::near_limit, what,
                std::to_string(used) + " of " + std::to_string(most) + " " + what + " are in use", fix, {}, true);
    };
    near("voices", load.voices, load.most_voices,
         "raise EngineSettings::voices, or limit the plays of sounds and buses");
    near("streams", load.streams, load.most_streams, "raise EngineSettings::streams, or play fewer long clips at once");
    near("waiting reports", load.reports, load.most_reports, "raise EngineSettings::reports, or report less per frame");
    near("scheduled reports", load.scheduled, load.most_scheduled,
         "raise EngineSettings::reports, or schedule less far ahead");
    near("waiting decisions", load.decisions, load.most_decisions, "call poll() once a frame");
    if (live && load.median > near_a_limit)
        say(FindingCode::near_limit, "block time",
            "rendering takes " + fixed(100 * load.median, 0) + " % of the block time",
            "lower EngineSettings::voices, use larger blocks, or compile with optimization", {}, true);
}

/// Returns the call of the app, as it appears in code.
std::string UsageFindings::call_of(const Decision& decision) {
    switch (decision.trigger) {
    case ReportKind::press:
        return "press(…)";
    case ReportKind::key_up:
        return "key_up(\"" + decision.on + "\")";
    case ReportKind::key_down:
        return "key_down(\"" + decision.on + "\")";
    case ReportKind::contact: {
        const std::size_t plus = decision.on.find('+');
        return "contact(\"" + decision.on.substr(0, plus) + "\", \"" +
               (plus == std::string::npos ? "" : decision.on.substr(plus + 1)) + "\")";
    }
    default:
        return std::string(to_string(decision.trigger)) + "(\"" + decision.on + "\")";
    }
}

/// Finds reports in every frame: from the app itself, or from a contact whose end is never reported. Contacts with a
/// pair number are not suspicious.
void UsageFindings::asked(const Decision& decision) {
    const bool contact = decision.trigger == ReportKind::contact;
    if (decision.trigger != ReportKind::play && decision.trigger != ReportKind::notice && !contact) return;
    if (contact && decision.paired) return;
    if (asked_.size() >= most_names) asked_.clear();
    Row& row = asked_[{decision.trigger, decision.on}];
    if (row.cause == decision.cause) return;
    const Frames gap = decision.frame - row.last;
    // Many bodies of two kinds touch at irregular times; calls in a frame loop are as regular as frames.
    const bool even = row.count < 2 || static_cast<double>(std::abs(gap - row.step)) <= 0.5 * static_cast<double>(gap);
    const bool next = row.count > 0 && decision.frame > row.last && (!contact || even) &&
                      static_cast<double>(gap) <= frame_time * rate_;
    if (!next && row.count >= burst) ++row.bursts;
    row.count = next ? row.count + 1 : 1;
    if (row.count == 1) row.first = decision.frame;
    row.cause = decision.cause;
    row.last = decision.frame;
    row.step = gap;
    const bool bursts = row.count >= burst && row.bursts + 1 >= most_bursts;
    if (row.count < most_in_a_row && !bursts) return;
    const double seconds = static_cast<double>(decision.frame - row.first) / rate_;
    const std::string often =
        bursts ? "in " + std::to_string(row.bursts + 1) + " rows of " + std::to_string(burst) + " frames or more"
               : std::to_string(row.count) + " times in " + fixed(seconds, 1) + " s";
    say(FindingCode::every_frame, decision.sound,
        "your app called " + call_of(decision) + " " + often + ", as in every frame",
        contact ? "give the contact a pair number, and report contact_end(pair) when it ends"
                : "call it once at the start; for a longer sound use `hold`, or a loop and its handle",
        {}, true);
}

/// Finds a report that repeats a state too late, or too far away, for an automatic repeat: the end before it is
/// missing.
void UsageFindings::unended(const Decision& decision) {
    const bool press = decision.trigger == ReportKind::press;
    say(FindingCode::input_unended, press ? std::string() : decision.on,
        "your app called " + call_of(decision) + " again without " + (press ? "release" : "key_up") +
            ", so only the first is heard",
        press ? "call release(…) when the button is released, or click(…) for both"
              : "call key_up(…) when the key is released, or key_tap(…) for both",
        {}, true);
}

void UsageFindings::played(const Decision& decision) {
    const model::Sound* const sound = sound_named(decision.sound);
    begun_[decision.play] = {decision.frame, decision.trigger == ReportKind::watch};
    if (!sound) return;
    if (decision.trigger == ReportKind::press && decision.binding > 0 && !pointed_ && decision.point.x == 0 &&
        decision.point.y == 0)
        say(FindingCode::pointer_at_origin, decision.on,
            "zone \"" + decision.on + "\" was pressed at 0, 0, where every pointer has been so far",
            "report presses with the position of the pointer",
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
        say(FindingCode::no_variation, decision.sound,
            "sound \"" + decision.sound + "\" was heard " + std::to_string(heard.count) + " times in a row within " +
                fixed(static_cast<double>(decision.frame - heard.first) / rate_, 1) + " s, without variation",
            "add takes, or write vary = { pitch = 1, gain = 2 }", sound->source);

    if (decision.trigger == ReportKind::contact || sound->limit.plays == 1)
        return; // they come as they come; none piles up
    Row& row = turns_[{decision.trigger, decision.on + ' ' + decision.sound}];
    const Frames apart = decision.frame - row.last;
    const bool even = row.count > 0 && static_cast<double>(std::abs(apart - row.step)) <=
                                           even_step * static_cast<double>(std::min(apart, row.step));
    row.count = even ? row.count + 1 : 1;
    row.last = decision.frame;
    row.step = apart;
    const double step = static_cast<double>(apart) / rate_, lasts = model::shortest(*project_, *sound);
    if (row.count >= turns_often && step > frame_time && lasts > step)
        say(FindingCode::overlap_grows, decision.sound,
            "sound \"" + decision.sound + "\" starts every " + fixed(step, 2) + " s and lasts " + fixed(lasts, 2) +
                " s, so its plays pile up",
            "use a shorter clip, play it less often, or write limit = { plays = 1 }", sound->source);
}

void UsageFindings::stolen(const Decision& decision) {
    const model::Sound* const sound = sound_named(decision.sound);
    const bool own = (decision.limit && decision.limit->kind == LimitReached::Kind::sound);
    if (sound && sound->endless() && own && !heard_[decision.sound].ended)
        say(FindingCode::loop_unended, decision.sound,
            "sound \"" + decision.sound +
                "\" loops endlessly, was started more often than its limit allows, and never stopped",
            "keep the handle and stop the play, or bind the sound with `hold`", sound->source);
}

void UsageFindings::ended(const Decision& decision) {
    const auto begun = begun_.find(decision.play);
    if (begun == begun_.end()) return;
    const auto [begin, by_watch] = begun->second;
    begun_.erase(begun);
    if (decision.reason == EndReason::stolen) return;
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
            "sound \"" + decision.sound + "\" was stopped " +
                fixed(1000 * static_cast<double>(std::max<Frames>(0, told - begin)) / rate_, 0) +
                " ms after its start, so it is not heard",
            "stop it later; to stop earlier plays, use `restart` or a limit", sound->source);
}

void UsageFindings::unanswered(const Decision& decision) {
    const bool key = decision.trigger == ReportKind::key_down || decision.trigger == ReportKind::key_up;
    if (key && !model::is_key_code(decision.on)) {
        const std::string near = model::nearest_key_code(decision.on);
        return say(FindingCode::unknown_key_code, decision.on,
                   "your app called " + call_of(decision) + ", which is not a W3C key code",
                   near.empty() ? "pass a code such as KeyA, Space or ArrowLeft" : "did you mean \"" + near + "\"?", {},
                   true);
    }
    if (decision.trigger != ReportKind::contact && decision.trigger != ReportKind::notice) return;
    // Contacts that the engine measures have no call, and a binding may give the notice.
    const bool of_app = decision.trigger == ReportKind::notice && decision.from == 0;
    say(FindingCode::nothing_bound, decision.on,
        (of_app ? "your app called " + call_of(decision) : words(decision) + " happened") +
            ", but nothing is bound to it",
        decision.nearest.empty() ? "bind it, or write action = { nothing = true }"
                                 : "did you mean \"" + decision.nearest + "\"?",
        {}, of_app);
}

void UsageFindings::say(FindingCode code, const std::string& about, const std::string& message, const std::string& fix,
                        model::Source source, bool of_app) {
    if (said_.size() >= most_names || !said_.insert({code, about}).second) return;
    Finding finding{code,
                    usual_severity(code),
                    of_app ? std::string() : project_->file,
                    source.line,
                    source.column,
                    message,
                    fix,
                    about,
                    {},
                    {}};
    for (const model::Acceptance& one : project_->accepted)
        if (one.code == to_string(code) && (one.on.empty() || one.on == about)) finding.accepted = one.reason;
    if (*sink_) (*sink_)(finding);
}

const model::Sound* UsageFindings::sound_named(const std::string& name) const {
    const auto found = sounds_.find(name);
    return found == sounds_.end() ? nullptr : found->second;
}

} // namespace kiai::engine
