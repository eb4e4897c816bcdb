#include "player.h"

#include "table.h"

#include <kiai/builder.h>
#include <kiai/engine.h>

#include <fmt/format.h>

#include <atomic>
#include <chrono>
#include <csignal>
#include <iostream>
#include <thread>
#include <utility>

namespace kiai::tool {
namespace {

std::atomic<bool> interrupted{false};

Project project_of(const Rehearsal& rehearsal) {
    ProjectBuilder builder;
    builder.clip("heard", {rehearsal.sample_rate, 2, rehearsal.samples});
    return builder.build().project;
}

} // namespace

struct Player::State {
    State(const Rehearsal& first, const SpeakerSettings& settings)
        : engine(project_of(first), {.sample_rate = first.sample_rate}), speaker(engine, settings) {
        engine.set_log({});
    }

    Engine engine;
    Speaker speaker;
    Play play;
    Frames until = 0; ///< when the last play has left the device
};

Player::Player(SpeakerSettings settings) : settings_(std::move(settings)) {}
Player::~Player() = default;

bool Player::play(const Rehearsal& rehearsal) {
    if (silent_) return false;
    if (state_ && state_->engine.sample_rate() != rehearsal.sample_rate) state_.reset();
    if (!state_) {
        state_ = std::make_unique<State>(rehearsal, settings_);
        if (!state_->speaker.wait_until_open(Seconds(10))) {
            say_error("nothing can be heard (" + state_->speaker.status() + "); write a file with --out");
            silent_ = true;
            state_.reset();
            return false;
        }
    } else {
        state_->play.stop(Seconds(0.02));
        state_->engine.set_project(project_of(rehearsal));
    }
    state_->play = state_->engine.play("heard");
    state_->until = state_->engine.now() + 1;
    return true;
}

bool Player::playing() const {
    if (!state_) return false;
    Engine& engine = state_->engine;
    if (state_->play.playing()) state_->until = engine.now() + engine.latency() + engine.sample_rate() / 10;
    return engine.now() < state_->until;
}

void Player::stop() {
    if (state_) state_->play.stop(Seconds(0.2));
}

void Player::report_gaps() const {
    const auto late = state_ ? state_->speaker.late_blocks() : 0;
    if (late > 0)
        std::cerr << fmt::format("{} had to wait {}, so there were gaps\n", state_->speaker.status(),
                                 counted(late, "time"));
}

Status listen(const Rehearsal& rehearsal, const SpeakerSettings& settings) {
    Player player(settings);
    if (!player.play(rehearsal)) return failed;
    std::signal(SIGINT, [](int) { interrupted = true; });
    for (bool stopped = false; player.playing();) {
        if (interrupted && !std::exchange(stopped, true)) player.stop();
        std::this_thread::sleep_for(std::chrono::milliseconds(5));
    }
    std::signal(SIGINT, SIG_DFL);
    player.report_gaps();
    return done;
}

void print_devices() {
    Table table({"", "output", "channels", "rate"});
    for (const OutputDevice& device : output_devices())
        table.add({device.is_default ? "default" : "", device.name, std::to_string(device.channels),
                   std::to_string(device.rate)});
    table.print();
}

} // namespace kiai::tool
