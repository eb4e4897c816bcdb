// How the parts of a decision are spelt in logs and messages.
#include "core/model/number_text.h"

#include <kiai/decision.h>
#include <kiai/state.h>

namespace kiai::inline v0 {

const char* to_string(Outcome outcome) noexcept {
    switch (outcome) {
    case Outcome::played:
        return "played";
    case Outcome::pending:
        return "pending";
    case Outcome::refused_gap:
        return "refused-gap";
    case Outcome::refused_limit:
        return "refused-limit";
    case Outcome::not_ready:
        return "not-ready";
    case Outcome::refused_full:
        return "refused-full";
    case Outcome::stopped:
        return "stopped";
    case Outcome::nothing_to_stop:
        return "nothing-to-stop";
    case Outcome::stolen:
        return "stolen";
    case Outcome::ended:
        return "ended";
    case Outcome::done:
        return "done";
    case Outcome::not_met:
        return "not-met";
    case Outcome::scope_off:
        return "scope-off";
    case Outcome::scope_paused:
        return "scope-paused";
    case Outcome::lost:
        return "lost";
    case Outcome::no_end:
        return "no-end";
    case Outcome::too_deep:
        return "too-deep";
    case Outcome::over:
        return "over";
    case Outcome::no_zone:
        return "no-zone";
    case Outcome::no_binding:
        return "no-binding";
    case Outcome::same_state:
        return "same-state";
    case Outcome::unknown_name:
        return "unknown-name";
    case Outcome::unknown_value:
        return "unknown-value";
    case Outcome::stream_late:
        return "stream-late";
    case Outcome::bad_number:
        return "bad-number";
    case Outcome::out_of_range:
        return "out-of-range";
    case Outcome::late:
        return "late";
    case Outcome::no_room:
        return "no-room";
    case Outcome::unended:
        return "unended";
    case Outcome::calendar_full:
        return "calendar-full";
    case Outcome::names_full:
        return "names-full";
    case Outcome::ring_full:
        return "ring-full";
    case Outcome::ducked:
        return "ducked";
    case Outcome::duck_over:
        return "duck-over";
    case Outcome::insert_off:
        return "insert-off";
    case Outcome::insert_slow:
        return "insert-slow";
    case Outcome::mix_lost:
        return "mix-lost";
    case Outcome::changed:
        return "changed";
    case Outcome::log_full:
        return "log-full";
    }
    return "decision";
}

const char* to_string(EndReason reason) noexcept {
    switch (reason) {
    case EndReason::none:
        return "none";
    case EndReason::finished:
        return "finished";
    case EndReason::stopped:
        return "stopped";
    case EndReason::stolen:
        return "stolen";
    case EndReason::scope_left:
        return "scope-left";
    case EndReason::changed:
        return "changed";
    case EndReason::refused:
        return "refused";
    case EndReason::unknown_name:
        return "unknown-name";
    case EndReason::pending:
        return "pending";
    case EndReason::not_ready:
        return "not-ready";
    case EndReason::scope_off:
        return "scope-off";
    case EndReason::bad_number:
        return "bad-number";
    case EndReason::lost:
        return "lost";
    case EndReason::engine_gone:
        return "engine-gone";
    }
    return "none";
}

const char* to_string(PlayState state) noexcept {
    static constexpr const char* words[] = {"ended", "asked", "playing", "fading", "paused"};
    return words[static_cast<int>(state)];
}

const char* to_string(ScopeState state) noexcept {
    static constexpr const char* words[] = {"off", "on", "paused"};
    return words[static_cast<int>(state)];
}

const char* to_string(Verb verb) noexcept {
    static constexpr const char* words[] = {"play", "hold", "toggle", "restart", "stop", "pause",  "resume",
                                            "set",  "mute", "unmute", "notice",  "run",  "nothing"};
    return words[static_cast<int>(verb)];
}

const char* to_string(ActionTarget target) noexcept {
    static constexpr const char* words[] = {"none",     "sound",      "bus",  "scope",
                                            "sequence", "everything", "dial", "notice"};
    return words[static_cast<int>(target)];
}

std::string to_string(const ActionTaken& action) {
    static constexpr const char* kinds[] = {"", "", "bus ", "scope ", "sequence ", "", "dial ", ""};
    std::string text = to_string(action.verb);
    if (action.target == ActionTarget::everything) return text + " everything";
    if (action.target == ActionTarget::none) return text;
    const bool plain = action.verb == Verb::run; // only a sequence can be run
    text += ' ' + (plain ? std::string() : kinds[static_cast<int>(action.target)]) + action.name;
    if (action.verb != Verb::set) return text;
    return text + " to " + model::general(action.number) + (action.target == ActionTarget::dial ? "" : " dB");
}

const char* to_string(WhenFull full) noexcept {
    static constexpr const char* words[] = {"end-oldest", "end-quietest", "refuse", "restart", "stronger-contact"};
    return words[static_cast<int>(full)];
}

const char* to_string(LimitReached::Kind kind) noexcept {
    static constexpr const char* words[] = {"gap", "sound", "bus", "engine"};
    return words[static_cast<int>(kind)];
}

std::string to_string(const LimitReached& limit) {
    const bool named = limit.kind == LimitReached::Kind::sound || limit.kind == LimitReached::Kind::bus;
    return to_string(limit.kind) + (named ? ' ' + limit.name : std::string());
}

} // namespace kiai::inline v0
