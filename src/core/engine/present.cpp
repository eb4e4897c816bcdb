#include "core/engine/present.h"
#include "core/model/sort_records.h"

#include <algorithm>

namespace kiai::engine {

std::vector<PlayingNow> plays_now(EngineShared& shared) {
    std::vector<PlayingNow> all;
    const mixer::PlayBoard& board = shared.core.board();
    const std::lock_guard guard(shared.mutex);
    const model::Project& project = shared.editions.newest().plan.project(); // the others have no more numbers than it
    for (std::size_t p = 0; p < board.size(); ++p) {
        const mixer::PlayBoard::Shown shown = board.read(p);
        if (shown.id == 0) continue;
        PlayingNow& one = all.emplace_back();
        one.number = shown.id;
        one.sound = project.sounds[static_cast<std::size_t>(shown.sound)].name;
        one.bus = project.buses[static_cast<std::size_t>(shown.bus)].name;
        if (shown.scope >= 0) one.scope = project.scopes[static_cast<std::size_t>(shown.scope)].name;
        one.state = shown.state;
        const Frames until = shown.state == PlayState::paused ? shown.stood_at : shared.core.now();
        one.elapsed = Seconds(static_cast<double>(std::max<Frames>(0, until - shown.begin)) / shared.settings.rate);
    }
    model::sort_records(all, [](const PlayingNow& a, const PlayingNow& b) { return a.number < b.number; });
    return all;
}

std::vector<WaitingTimer> waiting_timers(EngineShared& shared) {
    std::vector<WaitingTimer> all;
    const std::lock_guard guard(shared.mutex);
    const Edition& playing = shared.editions.playing();
    const auto& bindings = playing.plan.project().bindings;
    for (std::size_t b = 0; b < bindings.size(); ++b) {
        const Frames due = playing.router.timer(b);
        if (due == rules::Agenda::never) continue;
        const bool paused = due < 0;
        const Frames left = std::max<Frames>(0, paused ? -1 - due : due - shared.core.now());
        all.push_back({static_cast<int>(b) + 1, model::trigger_text(bindings[b]),
                       Seconds(static_cast<double>(left) / shared.settings.rate), paused});
    }
    return all;
}

} // namespace kiai::engine
