// The spelling of a decision's parts in logs and messages.
#include "core/model/number_text.h"

#include <kiai/decision.h>
#include <kiai/state.h>

#include <algorithm>
#include <array>

namespace kiai::inline v0 {

namespace {

/// Indexed by the enumerator's number.
constexpr auto outcomes = std::to_array<const char*>(
    {"played",        "pending",         "not-ready",    "refused-gap",  "refused-limit", "refused-full",
     "stopped",       "nothing-to-stop", "stolen",       "ended",        "no-room",       "done",
     "not-met",       "scope-off",       "scope-paused", "lost",         "no-end",        "too-deep",
     "over",          "no-zone",         "no-binding",   "same-state",   "unended",       "unknown-name",
     "unknown-value", "stream-late",     "bad-number",   "out-of-range", "late",          "calendar-full",
     "names-full",    "ring-full",       "ducked",       "duck-over",    "insert-off",    "insert-slow",
     "mix-lost",      "changed",         "log-full"});
static_assert(outcomes.size() == static_cast<std::size_t>(Outcome::last) + 1);

} // namespace

const char* to_string(Outcome outcome) noexcept {
    return outcomes[std::min(static_cast<std::size_t>(outcome), outcomes.size() - 1)];
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
