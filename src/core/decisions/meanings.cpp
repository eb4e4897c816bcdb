// The meaning of each decision. Only tools need it, so it is an object file of its own that a game does not link.
#include <kiai/decision.h>

#include <algorithm>
#include <array>

namespace kiai::inline v0 {

const char* explain(Outcome outcome) noexcept {
    static constexpr auto meanings = std::to_array<const char*>({
        // by number
        "A play of the sound starts at this frame.",
        "The sound is declared with `pending = true` and has no takes yet, so nothing plays.",
        "The clips of the sound belong to a scope that was not loaded. Load the project with that scope.",
        "The last start was less than the minimum gap ago (cooldown).",
        "The limit of the sound or of a bus is full, and no play can be stolen for this one.",
        "The engine has no free voice or stream, and every playing voice is more audible.",
        "Plays of the sound were stopped; they end by their fade or tail.",
        "A stop found no play to stop.",
        "The play ends early because of a limit, in favour of another play (voice stealing).",
        "The play reached its last frame, for the stated reason.",
        "The engine keeps no more bodies, contacts, keys or branches at once, so the report was ignored.",
        "An action was carried out that neither starts nor ends a play.",
        "A condition of the binding is false, so the binding does not act.",
        "Everything that is bound to the trigger belongs to scopes that are off.",
        "The scope of the binding is paused.",
        "A press, key, contact or zone ended because input was lost or its zone or body was removed.",
        "A hold needs an end, but the contact has no `pair` number, so nothing would end it.",
        "Notices or sequences trigger each other in a loop. The rest was cancelled.",
        "A watch turned false, or a sequence reached its end.",
        "No zone is at the position of the press.",
        "Nothing is bound to the trigger.",
        "The report states what is already so, such as a key that is already down. Logged once until the state "
        "changes.",
        "A press or a key came again, and its end was never reported. Report `release` or `key_up`.",
        "The call names something that the project does not have.",
        "No follow of the sound has a value with this name.",
        "A streamed clip was not read fast enough. The play is silent until more of the clip is read.",
        "A number of the call is NaN or infinite, so the call was ignored.",
        "A number of the call was clamped to its range.",
        "The call named a frame in the past, so it was served at once.",
        "Too many calls wait for a later frame, so this call was lost. See EngineSettings::reports.",
        "The app has used more different names than the engine keeps, so reports were lost.",
        "More calls came between two blocks than EngineSettings::reports allows, so calls were lost.",
        "The bus becomes quieter, or less quiet than before, while another bus plays.",
        "No bus that this bus is ducked under plays any longer.",
        "The insert of the bus is bypassed for the stated reason.",
        "The insert of the bus takes so long that blocks may be late.",
        "Frames of the finished mix were lost because poll() was not called in time.",
        "The project was replaced. Later decisions are about the new project.",
        "Decisions were lost because poll() was not called in time.",
    });
    static_assert(meanings.size() == static_cast<std::size_t>(Outcome::last) + 1);
    return meanings[std::min(static_cast<std::size_t>(outcome), meanings.size() - 1)];
}

} // namespace kiai::inline v0
