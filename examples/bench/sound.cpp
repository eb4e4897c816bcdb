#include "sound.h"

#include <algorithm>
#include <ostream>
#include <utility>

using namespace std::chrono_literals;

BenchSound::BenchSound(const kiai::Project& project, std::uint64_t seed)
    : engine_(project, {.seed = seed != 0 ? std::optional(seed) : std::nullopt}) {
    engine_.set_log([this](const kiai::Decision& decision) {
        if (out_) kiai::jsonl_log(*out_, engine_.sample_rate())(decision);
        log_.push_back(describe(decision));
        if (log_.size() > 12) log_.pop_front();
    });
}

void BenchSound::hear(const Bench& bench, const Happened& happened) {
    for (const Strike& strike : happened.strikes) engine_.contact(strike.kind, strike.other, strike.touch);
    for (const std::uint64_t pair : happened.aparts) engine_.contact_end(pair);
    if (stock_ != bench.stock()) engine_.set_dial("hopper-stock", static_cast<float>(stock_ = bench.stock()));
    if (fill_ != bench.fill()) engine_.set_dial("fill", fill_ = bench.fill());
    engine_.playhead("paddle", bench.wheel_turn() * 60);
    if (happened.run_complete) engine_.notice("run-complete");
    if (happened.tray_emptied) engine_.notice("tray-emptied");
    for (const std::uint64_t marble : happened.gone) {
        rolls_[marble].play.stop(80ms);
        rolls_.erase(marble);
    }
    if (!drawer_) roll(bench);
    engine_.poll();
}

/// Starts one `roll` play per marble that rolls along something. The play follows the speed of its marble. A marble
/// bounces a little, so a roll starts after three steps on the ground and ends after six steps in the air.
void BenchSound::roll(const Bench& bench) {
    constexpr int begins = 3, ends = 6;
    for (const Marble& marble : bench.marbles()) {
        Roll& roll = rolls_[marble.number];
        const float speed = bench.speed_of(marble);
        const bool rolls = marble.touching > 0 && speed > 0.15f;
        roll.steps = rolls ? std::max(roll.steps, 0) + 1 : std::min(roll.steps, 0) - 1;
        if (roll.steps == begins && !std::exchange(roll.on, true)) // once, even where it has to are stolen
            roll.play = engine_.play("roll", {.pan = bench.place_of(marble).x / 360 - 1}, "bench");
        if (roll.play.playing()) roll.play.set("speed", speed);
        if (roll.steps == -ends && std::exchange(roll.on, false)) roll.play.stop(80ms);
    }
}

void BenchSound::open_drawer(bool open) {
    drawer_ = open;
    rolls_.clear(); // they end with the bench's scope
    engine_.leave_scope(open ? "bench" : "drawer");
    engine_.enter_scope(open ? "drawer" : "bench");
}
