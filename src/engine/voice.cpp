#include "engine/voice.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace kiai::engine {

using dsp::cell;

Scratch::Scratch()
    : source(static_cast<std::size_t>(most * static_cast<int>(dsp::fastest) + dsp::FilterBank::instance().most_taps() +
                                      16)),
      left(most), right(most), first(most), row(most), blend(most) {}

void Voice::start(const model::Audio& audio, std::int64_t from, double ratio, bool loop, float gain_left,
                  float gain_right, const dsp::FilterBank& filters) noexcept {
    audio_ = &audio;
    loop_ = loop;
    gain_left_ = gain_left;
    gain_right_ = gain_right;
    index_ = std::clamp<std::int64_t>(from, 0, audio.frames - 1);
    fraction_ = 0;
    turned_ = false;
    filter_ = ratio == 1 ? nullptr : &filters.for_ratio(ratio);
    step_ = static_cast<std::int64_t>(ratio);
    step_fraction_ = static_cast<std::uint64_t>(std::ldexp(ratio - static_cast<double>(step_), 64));
}

/// `from` lies less than a filter before the clip or a turn before its end.
const float* Voice::fetch(int channel, std::int64_t from, int frames, float* into,
                          const dsp::Kernels& kernels) const noexcept {
    const std::int64_t length = audio_->frames;
    const std::int64_t offset = channel * length;
    const bool wide = !audio_->wide.empty();
    if (from >= 0 && from + frames <= length && wide) return audio_->wide.data() + offset + from;

    if (turned_ && from < 0)
        from = length - 1 - (-from - 1) % length; // what was heard before is the end of the last turn
    for (float* out = into; frames > 0;) {
        std::int64_t run = frames;
        if (from < 0) { // before the first frame there is silence
            run = std::min<std::int64_t>(frames, -from);
            std::fill_n(out, run, 0.0f);
        } else if (from >= length) {
            std::fill_n(out, run, 0.0f);
        } else {
            run = std::min<std::int64_t>(frames, length - from);
            if (wide)
                std::copy_n(audio_->wide.data() + offset + from, run, out);
            else
                kernels.widen(audio_->narrow.data() + offset + from, static_cast<int>(run), out);
        }
        out += run;
        frames -= static_cast<int>(run);
        from += run;
        if (loop_ && from == length) from = 0;
    }
    return into;
}

/// Fills the places for up to `frames` frames and moves on; the taps' first frames count from that of the first place.
int Voice::place(Scratch& scratch, int frames) noexcept {
    const auto rows = static_cast<std::uint64_t>(filter_->rows);
    const std::int64_t end = loop_ ? std::numeric_limits<std::int64_t>::max() : audio_->frames - index_;
    std::int64_t index = 0;
    std::uint64_t fraction = fraction_;
    std::int32_t *first = scratch.first.data(), *row = scratch.row.data();
    std::int32_t between[Scratch::most];
    int i = 0;
    for (; i < frames && index < end; ++i) {
        const std::uint64_t exact = (fraction >> 32) * rows; // 32.32: which row, and how far to the next
        first[i] = static_cast<std::int32_t>(index);
        row[i] = static_cast<std::int32_t>(exact >> 32);
        between[i] = static_cast<std::int32_t>(exact >> 1 & 0x7fffffff);
        const std::uint64_t next = fraction + step_fraction_;
        index += step_ + (next < fraction ? 1 : 0);
        fraction = next;
    }
    for (int k = 0; k < i; ++k) { // apart, since it can be done for several at a time
        row[k] *= filter_->taps;
        scratch.blend[static_cast<std::size_t>(k)] = static_cast<float>(between[k]) * 0x1p-31f;
    }
    index_ += index;
    fraction_ = fraction;
    return i;
}

int Voice::mix(const dsp::Kernels& kernels, Scratch& scratch, const float* shape, float level, int frames, int first,
               float* left, float* right, std::span<float> peaks) noexcept {
    const bool stereo = audio_->channels == 2;
    const float gain_left = gain_left_ * level, gain_right = gain_right_ * level;
    int done = 0;
    std::size_t cells = 0; // begun so far
    while (done < frames && !over()) {
        const int ask =
            std::min(frames - done, first + Scratch::most - cell); // so that each later call begins with a cell
        const std::int64_t from = index_;
        int made = 0;
        if (filter_) {
            made = place(scratch, ask);
        } else {
            made = loop_ ? ask : static_cast<int>(std::min<std::int64_t>(ask, audio_->frames - index_));
            index_ += made;
        }
        const float* sides[2] = {};
        for (int side = 0; side < audio_->channels; ++side) {
            float* own = side == 0 ? scratch.left.data() : scratch.right.data();
            if (filter_) {
                const int reach = scratch.first[static_cast<std::size_t>(made - 1)] + filter_->taps;
                const float* source = fetch(side, from - filter_->before, reach, scratch.source.data(), kernels);
                kernels.interpolate(source, *filter_, scratch.places(), made, own);
                sides[side] = own;
            } else {
                sides[side] = fetch(side, from, made, own, kernels);
            }
            if (shape) {
                for (int i = 0; i < made; ++i) own[i] = sides[side][i] * shape[done + i];
                sides[side] = own;
            }
        }
        if (stereo) {
            kernels.mix_side(sides[0], gain_left, left + done, made, first, peaks.data() + cells);
            kernels.mix_side(sides[1], gain_right, right + done, made, first, peaks.data() + cells);
        } else {
            kernels.mix_mono(sides[0], gain_left, gain_right, left + done, right + done, made, first,
                             peaks.data() + cells);
        }
        if (loop_ && index_ >= audio_->frames) {
            index_ %= audio_->frames;
            turned_ = true;
        }
        done += made;
        cells += Scratch::most / cell;
        first = cell;
    }
    return done;
}

} // namespace kiai::engine
