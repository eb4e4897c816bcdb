#include "core/dsp/tone.h"

#include "core/dsp/math.h"

#include <algorithm>
#include <cmath>

namespace kiai::dsp {
namespace {

constexpr double damping = 1.4142135623730951; // of a Butterworth response: 1 / Q
constexpr double inaudible = 1e-15;
constexpr double db_per_octave = 6.020599913279624; // of an amplitude

/// Returns tan(pi x), 0 <= x < 0.5.
double tan_pi(double x) noexcept {
    return sin_pi(x) / sin_pi(0.5 - x);
}

} // namespace

double octaves_of(double hertz) noexcept {
    return ratio_to_db(hertz) / db_per_octave;
}

TwoPole::Setting TwoPole::setting(Kind kind, double octaves, double rate) noexcept {
    if (kind == Kind::high_pass) {
        const double hertz = exp2(std::max(octaves, Cutoffs::open_high_pass)); // 10 Hz is open, 20 Hz is not
        return {tan_pi(std::min(0.49, hertz / rate)), 1 - fall(hertz / 10 - 1)};
    }
    const double top = std::min(20000.0, 0.45 * rate), hertz = exp2(std::clamp(octaves, 0.0, Cutoffs::open_low_pass));
    return {tan_pi(std::min(0.49, hertz / rate)), 1 - fall((top - hertz) / (0.1 * top))};
}

void TwoPole::start(Setting at) noexcept {
    cells_[0] = cells_[1] = cells_[2] = at;
    done_ = 0;
    cold_ = true;
    states_ = {};
}

void TwoPole::next_cell(Setting to) noexcept {
    cells_[0] = cells_[1];
    cells_[1] = cells_[2];
    cells_[2] = to;
    done_ = 0;
    for (State& state : states_) // what is too small to be heard is nothing
        if (std::fabs(state.first) < inaudible && std::fabs(state.second) < inaudible) state = {};
    if (idle()) states_ = {}, cold_ = true;
}

/// Filters one side, or both: their chains of operations do not depend on each other, so they run at once. `at(i)`
/// returns g and the wet share of a frame.
template<TwoPole::Kind kind, std::size_t sides, class At>
void TwoPole::filter(const std::array<float*, sides>& io, int frames, At at) noexcept {
    std::array<State, sides> states;
    std::copy_n(states_.begin(), sides, states.begin());
    for (int i = 0; i < frames; ++i) {
        const auto [g, wet, scale] = at(i);
        for (std::size_t side = 0; side < sides; ++side) {
            State& state = states[side];
            const double in = static_cast<double>(io[side][i]);
            const double high = (in - (g + damping) * state.first - state.second) * scale;
            const double to_band = g * high, band = to_band + state.first;
            state.first = band + to_band;
            const double to_low = g * band, low = to_low + state.second;
            state.second = low + to_low;
            io[side][i] = static_cast<float>(in + ((kind == Kind::low_pass ? low : high) - in) * wet);
        }
    }
    std::copy_n(states.begin(), sides, states_.begin());
}

template<TwoPole::Kind kind, std::size_t sides>
void TwoPole::run(const std::array<float*, sides>& io, int frames) noexcept {
    struct Frame {
        double g, wet, scale;
    };
    const auto frame = [](double g, double wet) { return Frame{g, wet, 1 / (1 + g * (g + damping))}; };
    if (moves()) {
        filter<kind>(io, frames, [&, done = done_](int i) {
            const double t = std::min(1.0, (done + i) / static_cast<double>(cell)), u = 1 - t;
            const double a = 0.5 * u * u, b = 0.5 + t * u, c = 0.5 * t * t;
            return frame(a * cells_[0].g + b * cells_[1].g + c * cells_[2].g,
                         a * cells_[0].wet + b * cells_[1].wet + c * cells_[2].wet);
        });
    } else {
        filter<kind>(io, frames, [all = frame(cells_[2].g, cells_[2].wet)](int) { return all; });
    }
}

void TwoPole::process(Kind kind, float* left, float* right, int frames) noexcept {
    if (idle()) return;
    if (cold_ && kind == Kind::low_pass &&
        cells_[0].wet == 0) { // the first frame was always there: no rise from nothing
        states_[0].second = static_cast<double>(left[0]);
        if (right) states_[1].second = static_cast<double>(right[0]);
    }
    cold_ = false;
    const std::array both{left, right};
    const std::array one{left};
    if (kind == Kind::low_pass)
        right ? run<Kind::low_pass>(both, frames) : run<Kind::low_pass>(one, frames);
    else
        right ? run<Kind::high_pass>(both, frames) : run<Kind::high_pass>(one, frames);
    done_ = std::min(done_ + frames, cell);
}

void TwoPole::pass(int frames) noexcept {
    if (idle()) return;
    cold_ = false;
    done_ = std::min(done_ + frames, cell);
}

bool TwoPole::silent() const noexcept {
    return std::all_of(states_.begin(), states_.end(),
                       [](const State& state) { return state.first == 0 && state.second == 0; });
}

void Tone::start(const Cutoffs& cutoffs, double rate) noexcept {
    cutoffs_ = cutoffs;
    low_.start(low_setting_ = TwoPole::setting(TwoPole::Kind::low_pass, cutoffs.low_pass, rate));
    high_.start(high_setting_ = TwoPole::setting(TwoPole::Kind::high_pass, cutoffs.high_pass, rate));
}

void Tone::next_cell(const Cutoffs& cutoffs, double rate) noexcept {
    if (!(cutoffs == cutoffs_)) {
        cutoffs_ = cutoffs;
        low_setting_ = TwoPole::setting(TwoPole::Kind::low_pass, cutoffs.low_pass, rate);
        high_setting_ = TwoPole::setting(TwoPole::Kind::high_pass, cutoffs.high_pass, rate);
    }
    low_.next_cell(low_setting_);
    high_.next_cell(high_setting_);
}

void Tone::process(float* left, float* right, int frames) noexcept {
    high_.process(TwoPole::Kind::high_pass, left, right, frames);
    low_.process(TwoPole::Kind::low_pass, left, right, frames);
}

void Tone::pass(int frames) noexcept {
    high_.pass(frames);
    low_.pass(frames);
}

} // namespace kiai::dsp
