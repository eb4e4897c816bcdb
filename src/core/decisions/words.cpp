// How the parts of a decision are spelt in logs and messages.
#include "core/model/number_text.h"

#include <kiai/decision.h>
#include <kiai/state.h>

#include <algorithm>
#include <array>

namespace kiai::inline v0 {

namespace {

struct OutcomeWords {
    const char* name;
    const char* meaning;
};

/// By number.
constexpr auto outcomes = std::to_array<OutcomeWords>({
    {"played", "A play of the sound starts at this frame."},
    {"pending", "The sound is declared with `pending = true` and has no takes yet, so nothing plays."},
    {"not-ready", "The clips of the sound belong to a scope that was not loaded. Load the project with that scope."},
    {"refused-gap", "The last start was less than the minimum gap ago (cooldown)."},
    {"refused-limit", "The limit of the sound or of a bus is full, and no play can be stolen for this one."},
    {"refused-full", "The engine has no free voice or stream, and every playing voice is more audible."},
    {"stopped", "Plays of the sound were stopped; they end by their fade or tail."},
    {"nothing-to-stop", "A stop found no play to stop."},
    {"stolen", "The play ends early because of a limit, in favour of another play (voice stealing)."},
    {"ended", "The play reached its last frame, for the stated reason."},
    {"no-room", "The engine keeps no more bodies, contacts, keys or branches at once, so the report was ignored."},
    {"done", "An action was carried out that neither starts nor ends a play."},
    {"not-met", "A condition of the binding is false, so the binding does not act."},
    {"scope-off", "Everything that is bound to the trigger belongs to scopes that are off."},
    {"scope-paused", "The scope of the binding is paused."},
    {"lost", "A press, key, contact or zone ended because input was lost or its zone or body was removed."},
    {"no-end", "A hold needs an end, but the contact has no `pair` number, so nothing would end it."},
    {"too-deep", "Notices or sequences trigger each other in a loop. The rest was cancelled."},
    {"over", "A watch turned false, or a sequence reached its end."},
    {"no-zone", "No zone is at the position of the press."},
    {"no-binding", "Nothing is bound to the trigger."},
    {"same-state",
     "The report states what is already so, such as a key that is already down. Logged once until the state changes."},
    {"unended", "A press or a key came again, and its end was never reported. Report `release` or `key_up`."},
    {"unknown-name", "The call names something that the project does not have."},
    {"unknown-value", "No follow of the sound has a value with this name."},
    {"stream-late", "A streamed clip was not read fast enough. The play is silent until more of the clip is read."},
    {"bad-number", "A number of the call is NaN or infinite, so the call was ignored."},
    {"out-of-range", "A number of the call was clamped to its range."},
    {"late", "The call named a frame in the past, so it was served at once."},
    {"calendar-full", "Too many calls wait for a later frame, so this call was lost. See EngineSettings::reports."},
    {"names-full", "The app has used more different names than the engine keeps, so reports were lost."},
    {"ring-full", "More calls came between two blocks than EngineSettings::reports allows, so calls were lost."},
    {"ducked", "The bus becomes quieter, or less quiet than before, while another bus plays."},
    {"duck-over", "No bus that this bus is ducked under plays any longer."},
    {"insert-off", "The insert of the bus is bypassed for the stated reason."},
    {"insert-slow", "The insert of the bus takes so long that blocks may be late."},
    {"mix-lost", "Frames of the finished mix were lost because poll() was not called in time."},
    {"changed", "The project was replaced. Later decisions are about the new project."},
    {"log-full", "Decisions were lost because poll() was not called in time."},
});
static_assert(outcomes.size() == static_cast<std::size_t>(Outcome::last) + 1);

} // namespace

const char* to_string(Outcome outcome) noexcept {
    return outcomes[std::min(static_cast<std::size_t>(outcome), outcomes.size() - 1)].name;
}

const char* explain(Outcome outcome) noexcept {
    return outcomes[std::min(static_cast<std::size_t>(outcome), outcomes.size() - 1)].meaning;
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
