#include "clips.h"

#include <algorithm>

namespace bench {
namespace {

constexpr double pi = std::numbers::pi;

const Body oak{212,
               {{1, 1, .20}, {2.71, .8, .15}, {4.12, .55, .11}, {5.38, .5, .09}, {8.93, .35, .06}, {11.7, .2, .04}},
               1.1,
               .035};
const Body brass{
    1240, {{1, 1, .9}, {1.83, .7, .7}, {2.76, .6, .55}, {4.07, .45, .4}, {5.63, .3, .28}, {7.41, .2, .2}}, .25, .02};
const Body glass{1810, {{1, 1, .7}, {2.32, .8, .5}, {4.25, .5, .35}, {6.63, .35, .22}, {9.38, .2, .15}}, .18, .025};
const Body marble{3120, {{1, 1, .07}, {1.52, .8, .06}, {2.34, .6, .05}, {3.11, .4, .04}, {4.27, .3, .03}}, .9, .05};
const Body tin{
    430, {{1, .8, .16}, {1.59, 1, .14}, {2.14, .8, .13}, {2.92, .7, .12}, {4.46, .5, .09}, {6.8, .3, .06}}, .7, .04};

std::string numbered(const std::string& name, int number) {
    return name + "-" + std::to_string(number);
}

void series(std::vector<Clip>& clips, const std::string& name, int takes, const Body& body, double seconds,
            double peak_db, std::uint64_t seed) {
    for (int take = 1; take <= takes; ++take) {
        Dice dice(seed + static_cast<std::uint64_t>(take));
        clips.push_back({numbered(name, take), finish(strike(body, seconds, dice), peak_db)});
    }
}

/// A marble falls onto the chute: a strike and two or three small bounces.
void drops(std::vector<Clip>& clips) {
    for (int take = 1; take <= 7; ++take) {
        Dice dice(700 + static_cast<std::uint64_t>(take));
        Samples out = strike(oak, 0.3, dice);
        double at = 0, wait = dice.between(0.09, 0.13), level = 1;
        for (int bounce = 0; bounce < 3; ++bounce) {
            at += wait, wait *= dice.between(0.5, 0.62), level *= dice.between(0.4, 0.55);
            add(out, strike(oak, 0.2, dice), at, level);
        }
        clips.push_back({numbered("drop", take), finish(out, -3)});
    }
}

/// A shutter of tin that slides and comes to a stop.
Samples hopper_open() {
    Dice dice(11);
    Samples out = silence(0.12);
    double low = 0, lower = 0;
    for (std::size_t i = 0; i < out.size(); ++i) {
        const double t = static_cast<double>(i) / static_cast<double>(out.size());
        low += 0.35 * (dice.between(-1, 1) - low), lower += 0.03 * (low - lower);
        out[i] = 0.8 * (low - lower) * std::sin(pi * t) * (0.7 + 0.3 * std::sin(2 * pi * 31 * t));
    }
    add(out, strike(tin, 0.3, dice), 0.1);
    return finish(out, -6);
}

/// Wood under load: a sawtooth of stick and slip with a falling pitch, filtered by the plank's partials.
Samples tilt() {
    Dice dice(23);
    Samples pulses = silence(0.9), out = silence(0.9);
    for (double at = 0.01; at < 0.75; at += 1 / (58 - 24 * at + dice.between(-4, 4)))
        pulses[static_cast<std::size_t>(at * rate)] = std::sin(pi * at / 0.75);
    for (const Partial& partial : oak.partials) {
        const double radius = std::pow(10.0, -3 / (0.12 * rate)),
                     angle = 2 * pi * oak.lowest * 1.3 * partial.ratio / rate;
        double one = 0, two = 0;
        for (std::size_t i = 0; i < out.size(); ++i) {
            const double now = pulses[i] + 2 * radius * std::cos(angle) * one - radius * radius * two;
            two = one, one = now;
            out[i] += partial.level * std::sin(angle) * now;
        }
    }
    return finish(out, -6);
}

/// The lift's motor: it speeds up, runs evenly for a second that contains whole periods of every partial, and slows
/// down.
Samples motor() {
    constexpr double up = 0.5, even = 1, down = 0.8;
    Samples out = silence(up + even + down);
    const struct {
        double hertz, level;
    } parts[] = {{47, .8}, {94, .7}, {141, .35}, {188, .3}, {329, .2}, {612, .12}, {987, .06}};
    const auto rise = [](double x) { return x * x * (3 - 2 * x); };
    double turned = 0; // in seconds of even running
    for (std::size_t i = 0; i < out.size(); ++i) {
        const double t = static_cast<double>(i) / rate;
        const double speed = t < up          ? 0.3 + 0.7 * rise(t / up)
                             : t < up + even ? 1
                                             : 1 - 0.8 * rise((t - up - even) / down);
        const double level = t < 0.05 ? rise(t / 0.05) : t < up + even ? 1 : 1 - rise((t - up - even) / down);
        const double wobble = 1 + 0.12 * std::sin(2 * pi * 6 * turned) + 0.05 * std::sin(2 * pi * 11 * turned);
        for (const auto& part : parts)
            out[i] += level * wobble * part.level * std::sin(2 * pi * part.hertz * turned + part.hertz);
        turned += speed / rate;
    }
    double peak = 0;
    for (const double sample : out) peak = std::max(peak, std::abs(sample));
    for (double& sample : out) sample *= std::pow(10.0, -12.0 / 20) / peak; // no fade: it ends by itself
    return out;
}

/// A marble rolls over oak: a rumble filtered by the plank's lowest partials. The clip's end does not match its start.
Samples roll() {
    Dice dice(61);
    Samples out = silence(1.5);
    std::vector<double> one(oak.partials.size()), two(oak.partials.size());
    double low = 0, sway = 0;
    for (double& sample : out) {
        low += 0.08 * (dice.between(-1, 1) - low), sway += 0.0004 * (dice.between(-1, 1) - sway);
        const double push = low * (1 + 20 * sway);
        sample = 0.4 * push;
        for (std::size_t p = 0; p < oak.partials.size(); ++p) {
            const double radius = std::pow(10.0, -3 / (0.05 * rate)),
                         angle = 2 * pi * oak.lowest * oak.partials[p].ratio / rate;
            const double now = push + 2 * radius * std::cos(angle) * one[p] - radius * radius * two[p];
            two[p] = one[p], one[p] = now;
            sample += 0.02 * oak.partials[p].level * std::sin(angle) * now;
        }
    }
    double peak = 0;
    for (const double sample : out) peak = std::max(peak, std::abs(sample));
    for (double& sample : out) sample *= std::pow(10.0, -8.0 / 20) / peak;
    return out;
}

/// A soft brush over wood: noise that swells and fades, with a different brightness per take.
Samples brush(std::uint64_t seed) {
    Dice dice(seed);
    Samples out = silence(0.22);
    double low = 0, lower = 0;
    const double bright = dice.between(0.25, 0.45);
    for (std::size_t i = 0; i < out.size(); ++i) {
        const double t = static_cast<double>(i) / static_cast<double>(out.size());
        low += bright * (dice.between(-1, 1) - low), lower += 0.03 * (low - lower);
        out[i] = (low - lower) * std::sin(pi * t) * std::sin(pi * t) * (1 + 0.4 * std::sin(2 * pi * 9 * t));
    }
    return finish(out, -18);
}

/// Two glass tones and a rest, made to loop.
Samples overflow() {
    Samples out = silence(0.9);
    const struct { double at, hertz; } tones[] = {{0.0, 740}, {0.16, 554}};
    for (const auto& tone : tones)
        for (std::size_t i = 0; i < static_cast<std::size_t>(0.45 * rate); ++i) {
            const double t = static_cast<double>(i) / rate;
            const double shape = (1 - std::exp(-t / 0.004)) * std::pow(10.0, -3 * t / 0.42);
            out[static_cast<std::size_t>(tone.at * rate) + i] +=
                shape * (std::sin(2 * pi * tone.hertz * t) + 0.35 * std::sin(2 * pi * 2.76 * tone.hertz * t));
        }
    return finish(out, -9);
}

/// Brass pegs, struck in ascending order.
Samples flourish() {
    Samples out = silence(0.1);
    const double steps[] = {1, 1.26, 1.498, 1.887, 2.245};
    for (int i = 0; i < 5; ++i) {
        Dice dice(40 + static_cast<std::uint64_t>(i));
        Body peg = brass;
        peg.lowest = 620 * steps[i], peg.spread = 0.002;
        for (Partial& partial : peg.partials) partial.decay *= 1.6;
        add(out, strike(peg, 1.3, dice), 0.11 * i, 0.7 + 0.08 * i);
    }
    return finish(out, -6);
}

} // namespace

std::vector<Clip> make_clips() {
    std::vector<Clip> clips;
    clips.push_back({"hopper-open", hopper_open()});
    drops(clips);
    series(clips, "oak", 9, oak, 0.32, -3, 100);
    series(clips, "peg", 5, brass, 0.75, -6, 200);
    series(clips, "glass", 5, glass, 0.6, -6, 300);
    series(clips, "marble", 4, marble, 0.12, -6, 400);
    for (int i = 1; i <= 3; ++i)
        clips.push_back({"brush-" + std::to_string(i), brush(static_cast<std::uint64_t>(500 + i))});
    Body cup = oak; // a paddle of the wheel, that lets its marble go
    cup.lowest *= 1.9;
    series(clips, "paddle", 3, cup, 0.16, -9, 600);
    clips.push_back({"tilt", tilt()});
    clips.push_back({"motor", motor()});
    clips.push_back({"roll", roll()});
    clips.push_back({"overflow", overflow()});
    clips.push_back({"flourish", flourish()});
    return clips;
}

} // namespace bench
