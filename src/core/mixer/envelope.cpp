#include "core/mixer/envelope.h"

namespace kiai::mixer {

void write_faded(FadeCurve curve, Frames first, Frames length, int count, double* out) noexcept {
    dsp::write_falls(static_cast<double>(first), static_cast<double>(length), count, out);
    if (curve == FadeCurve::equal_gain) return;
    for (int i = 0; i < count; ++i) out[i] /= 2;
    dsp::replace_by_sines(out, count);
}

void write_risen(FadeCurve curve, Frames first, Frames length, int count, double* out) noexcept {
    dsp::write_falls(static_cast<double>(first), static_cast<double>(length), count, out);
    for (int i = 0; i < count; ++i) out[i] = 1 - out[i];
    if (curve == FadeCurve::equal_gain) return;
    for (int i = 0; i < count; ++i) out[i] /= 2;
    dsp::replace_by_sines(out, count);
}

void Envelope::write(Frames now, int frames, float* out) const noexcept {
    constexpr int most = 64;
    double values[most], parts[most];
    for (int done = 0; done < frames; done += most) {
        const int count = std::min(most, frames - done);
        std::fill_n(values, count, from_ * frozen_);
        for (int r = 0; r < moving_; ++r) {
            const Ramp& ramp = ramps_[r];
            const double to = ramp.to * frozen_;
            write_faded(FadeCurve::equal_gain, now + done - ramp.at, ramp.length, count, parts);
            for (int i = 0; i < count; ++i) values[i] = to + (values[i] - to) * parts[i];
        }
        for (int f = 0; f < fading_; ++f) {
            const Fade& fade = fades_[f];
            write_faded(fade.curve, now + done - fade.at, fade.length, count, parts);
            for (int i = 0; i < count; ++i) values[i] *= parts[i];
        }
        for (int i = 0; i < count; ++i) out[done + i] = static_cast<float>(values[i]);
    }
}

} // namespace kiai::mixer
