#include "core/mixer/plays.h"

namespace kiai::mixer {
namespace {
constexpr double takeover_seconds = 0.015;
} // namespace

std::uint32_t Plays::request(const Wanted& wanted, Frames now) noexcept {
    const auto refuse = [&](EndReason reason) {
        table_.handles.end(wanted.handle, reason, now);
        return 0u;
    };
    if (const model::Sound& sound = *table_.plan->at(wanted.sound).sound; sound.pending || sound.unready) {
        decisions::Record record = wanted.cause;
        record.frame = now;
        record.outcome = sound.pending ? Outcome::pending : Outcome::not_ready;
        record.sound = wanted.sound;
        table_.journal.write(record);
        return refuse(sound.pending ? EndReason::pending : EndReason::not_ready);
    }
    if (!limits_.admits(wanted, now)) return refuse(EndReason::refused);
    const bool young = limits_.make_way(wanted, now);
    const int begun = starts_.begin(wanted, now);
    // The play that replaces a very young one rises while that one falls, so that many within a few ms do not add up.
    if (young) starts_.rise_over(begun, static_cast<Frames>(takeover_seconds * table_.rate));
    return table_.next_id - 1;
}

} // namespace kiai::mixer
