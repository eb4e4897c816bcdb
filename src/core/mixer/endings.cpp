#include "core/mixer/endings.h"

#include <algorithm>

namespace kiai::mixer {

namespace {
constexpr double steal_seconds = 0.01;
} // namespace

/// Returns false if the play ends as early anyway.
bool Endings::end_early(int index, Frames now, Frames fade, EndReason reason, std::uint64_t by,
                        FadeCurve curve) noexcept {
    ActivePlay& play = item(table_.plays, index);
    if (play.pauses != 0) fade = 0; // nothing of it is heard
    table_.thaw(play, now);
    if (now - play.skipped < play.risen)
        fade = std::max(fade, static_cast<Frames>(shortest_fall_of_rising * table_.rate));
    table_.looping -= play.for_ever() ? 1 : 0;
    play.pauses = 0;
    table_.looping += play.for_ever() ? 1 : 0;
    if (!play.envelope.fade(now - play.skipped, fade, curve)) return false;
    play.reason = reason;
    play.ended_by = by;
    table_.uncount(index, now);
    table_.tell(play, now);
    return true;
}

/// Lets each loop finish its turn and play its tail. Returns false if a loop cannot, so that the play must fade.
bool Endings::finish_turns(int index) noexcept {
    const auto each = [&](const auto& use) {
        for (const int slot : table_.order)
            if (item(table_.voices, slot).play == index) use(slot);
    };
    bool tails = false, endless = false;
    each([&](int slot) {
        const Lap& lap = *item(table_.stories, slot).lap;
        tails = tails || lap.tail;
        endless = endless || (!lap.tail && item(table_.voices, slot).voice.endless());
    });
    if (!tails || endless) return false;
    each([&](int slot) { item(table_.voices, slot).voice.finish_turn(); });
    return true;
}

bool Endings::end_in_its_way(int index, Frames now, std::uint64_t by) noexcept {
    ActivePlay& play = item(table_.plays, index);
    if (!play.counted) return false; // it is ending
    if (play.pauses != 0 || !finish_turns(index))
        return end_early(index, now, table_.plan->at(play.sound).fade_out, EndReason::stopped, by,
                         table_.plan->at(play.sound).sound->fade_out_curve);
    play.reason = EndReason::stopped;
    play.ended_by = by;
    table_.uncount(index, now);
    table_.tell(play, now);
    return true;
}

/// Ends a play in favour of another. Returns true if it was heard so briefly that both might add up.
bool Endings::steal(int index, Frames now, std::uint64_t by) noexcept {
    ActivePlay& play = item(table_.plays, index);
    const auto fade = static_cast<Frames>(steal_seconds * table_.rate);
    const bool young = now - play.skipped - play.first < fade;
    if (!play.unheard(now)) {
        end_early(index, now, young ? 0 : fade, EndReason::stolen, by);
        return young;
    }
    play.reason = EndReason::stolen;
    play.ended_by = by;
    drop(index, now);
    return false;
}

/// Removes a play of which nothing was mixed yet, so it never sounds.
void Endings::drop(int index, Frames now) noexcept {
    ActivePlay& play = item(table_.plays, index);
    auto last = table_.order.end(); // its voices are contiguous, and it is one of the newest
    while (last != table_.order.begin() && item(table_.voices, *(last - 1)).play != index) --last;
    auto first = last;
    while (first != table_.order.begin() && item(table_.voices, *(first - 1)).play == index) --first;
    for (auto slot = first; slot != last; ++slot) {
        table_.end_voice(*slot, now);
        table_.free_voices.push_back(*slot);
    }
    table_.order.erase(first, last);
    play.end = now;
    table_.close_ended();
}

} // namespace kiai::mixer
