// Moves a play's gain, pitch and pan while it sounds: LFOs, and follows of dials and of the play's own values.
#pragma once

#include "core/dsp/cutoffs.h"
#include "core/model/chance.h"
#include "core/model/names.h"
#include "core/model/project.h"

#include <kiai/units.h>

#include <cstdint>
#include <span>
#include <vector>

namespace kiai::mixer {

/// The sum of everything that affects a layer's level and pitch.
struct Mixed {
    double gain = 0, pitch = 0, pan = 0;
    double balance = 0;          ///< 0 the first layer … 1 the last
    bool balanced = false;       ///< else every layer is heard as it is
    double start = 0, delay = 0; ///< seconds, of the spreads alone
    double depth = 0, rate = 0;  ///< of the LFO that is applied next, on top of its own
    dsp::Cutoffs cutoffs;        ///< of several low-passes the lowest, of several high-passes the highest

    void move(model::FollowTarget target, double by) noexcept;
    /// Returns the linear gain of layer `number` of `layers`: two neighbours at constant power, all others silent.
    double share(std::uint32_t number, std::size_t layers) const noexcept;
};

/// Returns the value with a part `to_go`, 0 … 1, of the way from `from` to `to` still to go.
Mixed between(const Mixed& to, const Mixed& from, double to_go) noexcept;

/// Seconds: how long a change of the project takes to reach current plays.
constexpr double change_seconds = 0.04;

/// One LFO or follow, with times in frames.
struct Mover {
    const model::Lfo* lfo = nullptr;
    const model::Follow* follow = nullptr; ///< of a dial or an own value
    int value = 0;                         ///< which dial, or which of the sound's own values
    double keep = 0;                       ///< what is left of a distance after one cell, of each of two stages
    std::uint32_t number = 0;              ///< distinguishes the draws of several LFOs
    bool of_sound = false;                 ///< all layers share its draws; else each layer has its own
    model::FollowTarget target() const noexcept { return lfo ? lfo->target : follow->target; }
    bool moves_rate = false; ///< of an LFO: its rate is moved

    /// [control]
    static Mover of(const model::Lfo& lfo, std::uint32_t number, bool of_sound) noexcept;
    static Mover of(const model::Follow& follow, int value, int rate) noexcept;
};

/// Two one-pole low-passes in series: no step and no corner, however the value jumps. For an LFO with a moving rate:
/// the turns so far and their frame.
struct Smoothed {
    double first = 0, second = 0;
};

/// The time and the inputs of a move.
struct Moment {
    Frames now = 0;
    Frames begun = 0; ///< of the play
    int rate = 48000;
    model::Draw draw;
    std::span<const double> dials, own;
    float strength = 1, place = 0; ///< of the trigger
};

/// Adds the effect of a mover at `moment` to `mixed`. At a play's `begin` nothing is smoothed. Call it once per cell.
/// [rt]
void apply(const Mover& mover, Smoothed& smoothed, const Moment& moment, bool begin, Mixed& mixed) noexcept;

/// Returns the LFO's value, -1 … 1. `turns`: periods since its start; `rate`: in Hz. [rt]
double lfo_value(const Mover& mover, double turns, double rate, const model::Draw& draw) noexcept;

} // namespace kiai::mixer
