#include "core/mixer/voice.h"

#include "core/dsp/math.h"

#include <algorithm>
#include <cmath>

namespace kiai::mixer {

using dsp::cell;

namespace {

// A voice moves by at most `fastest` frames of its clip per frame of output during any glide, and its two filters reach
// at most `most_taps` frames around that.
constexpr int most_source = Scratch::most * static_cast<int>(dsp::fastest) + 2 * dsp::most_taps + 16;

/// Returns a part of a frame, 0 … below 1, in 2^-64ths, rounded down. In two halves, since a compiler converts a double
/// to 64 bits without a sign by a branch.
std::uint64_t fraction_of(double part) noexcept {
    const double scaled = part * 0x1p32;
    const auto high = static_cast<std::int64_t>(scaled);
    const auto low = static_cast<std::int64_t>((scaled - static_cast<double>(high)) * 0x1p32);
    return static_cast<std::uint64_t>(high) << 32 | static_cast<std::uint64_t>(low);
}

/// Returns the lowest count for which `reached(count)` holds, at most `most`. Once it holds, it holds for all higher
/// ones.
template<class Reached>
int fewest(int most, Reached reached) noexcept {
    if (!reached(most)) return most;
    int low = 0, high = most;
    while (low < high) {
        const int middle = (low + high) / 2;
        if (reached(middle))
            high = middle;
        else
            low = middle + 1;
    }
    return low;
}

} // namespace

Scratch::Scratch()
    : source(static_cast<std::size_t>(most_source)), left(most), right(most), before(most), first(most), row(most),
      fraction(most), way(most), blend(most), share(most), stretched(most, most_source) {
    for (int i = 0; i < cell; ++i)
        falls[static_cast<std::size_t>(i)] = static_cast<float>(dsp::fall(static_cast<double>(i) / cell));
}

void Voice::start(const model::Audio& audio, const Lap& lap, std::int64_t turns, Stream* stream, std::int64_t from,
                  double ratio, float gain_left, float gain_right, const dsp::FilterBank& filters) noexcept {
    *this = {};
    stream_ = stream;
    audio_ = &audio;
    lap_ = &lap;
    turns_ = turns;
    end_ = lap.length(turns_);
    gain_left_ = gain_left;
    gain_right_ = gain_right;
    index_ = std::clamp<std::int64_t>(from, 0, audio.frames - 1);
    filter_ = ratio == 1 ? dsp::Stretched() : filters.for_ratio(ratio);
    ratio_ = target_ = ratio;
    step_ = static_cast<std::int64_t>(ratio);
    step_fraction_ = fraction_of(ratio - static_cast<double>(step_));
    // The ratio of two rates is rarely an exact double. A slightly larger ratio lets a clip end at its exact frame
    // instead of the next one, and moves nothing audibly: 2^-20 of a frame in a day.
    constexpr std::uint64_t little = 1 << 12;
    if (step_fraction_ != 0 && step_fraction_ < ~little) step_fraction_ += little;
}

void Voice::seek(std::int64_t frame, std::int64_t turns, Stream* stream) noexcept {
    stream_ = stream;
    turns_ = turns;
    end_ = lap_->length(turns_);
    index_ = frame < audio_->frames ? lap_->count_of(frame, turns_) : end_;
    fraction_ = 0;
    if (!gliding_) return;
    ratio_ = glided_ < glide_frames_ ? ratio_ + bend_ * glided_ : target_; // the rest of the way begins here
    glide_frames_ = std::max(1, glide_frames_ - glided_);
    bend_ = (target_ - ratio_) / glide_frames_;
    glided_ = 0;
    glide_index_ = index_;
    glide_fraction_ = 0;
    leaves_ = dsp::Stretched();
}

void Voice::glide(double ratio, int frames, bool at_once, const dsp::FilterBank& filters) noexcept {
    const double now = at_once ? ratio : glided_ < glide_frames_ ? ratio_ + bend_ * glided_ : target_;
    bend_ = (ratio - now) / frames;
    ratio_ = now;
    target_ = ratio;
    glide_frames_ = frames;
    glided_ = 0;
    glide_index_ = index_;
    glide_fraction_ = static_cast<double>(fraction_) * 0x1p-64;
    gliding_ = true;
    const dsp::Stretched next = filters.for_ratio(std::max(now, ratio));
    leaves_ = at_once || next == filter_ ? dsp::Stretched() : filter_;
    filter_ = next;
}

int Voice::most_taps() const noexcept {
    return std::max(filter_.taps(), leaves_.taps());
}

void Voice::finish_turn() noexcept {
    if (!lap_->loops) return;
    // What was read stays as it is: by the taps, or into the stream as far as it may have been filled.
    const std::int64_t reach = index_ + (stream_ ? Stream::capacity : dsp::most_taps);
    turns_ = std::min(turns_, lap_->turns_until(reach));
    end_ = lap_->length(turns_);
    if (stream_) stream_->set_turns(turns_);
}

int Voice::ready(int frames) const noexcept {
    if (!stream_) return frames;
    const std::int64_t ready = stream_->ready();
    if (ready >= end_) return frames;
    const double count = static_cast<double>(ready - index_ - most_taps()) / std::max(ratio_, target_) - 1;
    return static_cast<int>(std::clamp(count, 0.0, static_cast<double>(frames)));
}

float Voice::envelope_at(const model::Audio& audio, const Lap& lap, std::int64_t turns, std::int64_t at) noexcept {
    if (at >= lap.length(turns) || audio.envelope.empty()) return 0;
    const Lap::Run run = lap.run(std::max<std::int64_t>(0, at), turns);
    const auto frame = run.in_crossfade ? lap.end - lap.crossfade + run.from : run.from;
    const auto step = static_cast<std::size_t>(frame / audio.step());
    return audio.envelope[std::min(step, audio.envelope.size() - 1)];
}

const float* Voice::fetch(int channel, std::int64_t from, int frames, float* into,
                          const dsp::Kernels& kernels) const noexcept {
    const bool wide = !audio_->wide.empty();
    const std::int64_t offset = channel * audio_->held;
    for (float* out = into; frames > 0;) {
        std::int64_t count = frames;
        if (from < 0 || from >= end_) { // before the first frame and after the last there is silence
            if (from < 0) count = std::min(count, -from);
            std::fill_n(out, count, 0.0f);
        } else {
            const Lap::Run run = lap_->run(from, turns_);
            count = std::min(count, run.count);
            const std::int64_t in_memory = stream_ ? stream_->in_memory() : from + count;
            if (from < in_memory) count = std::min(count, in_memory - from);
            if (from >= in_memory)
                stream_->copy(channel, from, count, out);
            else if (run.in_crossfade)
                std::copy_n(lap_->crossfaded.data() + channel * lap_->crossfade + run.from, count, out);
            else if (!wide)
                kernels.widen(audio_->narrow.data() + offset + run.from, static_cast<int>(count), out);
            else if (count == frames && out == into)
                return audio_->wide.data() + offset + run.from; // the clip contains all of it unchanged
            else
                std::copy_n(audio_->wide.data() + offset + run.from, count, out);
        }
        out += count;
        frames -= static_cast<int>(count);
        from += count;
    }
    return into;
}

/// Sets the rows of a filter for the positions of a glide.
void Voice::set_rows(Scratch& scratch, const dsp::Filter& filter, int frames) noexcept {
    const auto rows = static_cast<std::uint32_t>(filter.rows);
    const std::uint32_t* fraction = scratch.fraction.data();
    std::int32_t* row = scratch.row.data();
    float* blend = scratch.blend.data();
    for (int i = 0; i < frames; ++i) {
        const std::uint64_t exact = std::uint64_t{fraction[i]} * rows; // 32.32: which row, and how far to the next
        row[i] = static_cast<std::int32_t>(exact >> 32) * filter.taps;
        blend[i] = static_cast<float>(static_cast<std::int32_t>(exact >> 1 & 0x7fffffff)) * 0x1p-31f;
    }
}

/// Computes the positions of up to `frames` frames and advances. The first frames of the taps are relative to that of
/// the first position.
int Voice::place_gliding(Scratch& scratch, int frames) noexcept {
    std::int32_t* first = scratch.first.data();
    std::uint32_t* fraction = scratch.fraction.data();
    double* way = scratch.way.data();
    // From the frame that is next, so that a double becomes 32 bits, which processors do for several at once.
    const std::int64_t from = index_ - glide_index_;
    glide_ways(frames, way);
    for (int i = 0; i < frames; ++i) {
        const double part = way[i] - static_cast<double>(from);
        const auto whole = static_cast<std::int32_t>(part);
        const double scaled = (part - whole) * 0x1p16;
        const auto high = static_cast<std::int32_t>(scaled), low = static_cast<std::int32_t>((scaled - high) * 0x1p16);
        first[i] = whole;
        fraction[i] = static_cast<std::uint32_t>(high) << 16 | static_cast<std::uint32_t>(low);
    }
    first[0] = 0; // as exact as it is known
    fraction[0] = static_cast<std::uint32_t>(fraction_ >> 32);
    const std::int64_t rest = end_ - index_;
    const int last = frames - 1,
              count = first[last] < rest ? frames : fewest(last, [&](int at) { return first[at] >= rest; });
    if (leaves_) write_shares(scratch, count);
    glide_on(count);
    return count;
}

/// Sets way[i] to glide_way(glided_ + i).
void Voice::glide_ways(int frames, double* way) const noexcept {
    const double glided = glided_, length = glide_frames_, begin = glide_fraction_, ratio = ratio_, bend = bend_,
                 target = target_;
    for (int i = 0; i < frames; ++i) {
        const double at = glided + i, bent = std::min(at, length);
        way[i] = begin + bent * ratio + bend * (0.5 * bent * (bent - 1)) + (at - bent) * target;
    }
}

/// Sets the share of the filter that the glide leaves, for the next `frames`.
void Voice::write_shares(Scratch& scratch, int frames) const noexcept {
    for (int i = 0; i < frames; ++i) {
        const int at = glided_ + i;
        scratch.share[static_cast<std::size_t>(i)] =
            at >= glide_frames_     ? 0
            : glide_frames_ == cell ? scratch.falls[static_cast<std::size_t>(at)]
                                    : static_cast<float>(dsp::fall(static_cast<double>(at) / glide_frames_));
    }
}

/// Returns how many frames of the clip lie between the start of a glide and `glided` frames of output after it. The
/// ratio stays after the end of the glide, because a voice that was paused may reach the next glide late.
double Voice::glide_way(int glided) const noexcept {
    const int bent = std::min(glided, glide_frames_);
    return glide_fraction_ + bent * ratio_ + bend_ * (0.5 * bent * (bent - 1)) +
           static_cast<double>(glided - bent) * target_;
}

void Voice::glide_on(int frames) noexcept {
    if (frames == 0) return;
    glided_ += frames;
    const double way = glide_way(glided_);
    const auto whole = static_cast<std::int64_t>(way);
    index_ = glide_index_ + whole;
    fraction_ = fraction_of(way - static_cast<double>(whole));
}

int Voice::pass(int frames) noexcept {
    if (gliding_) {
        const int passed = index_ >= end_ ? 0 : fewest(frames, [&](int count) {
            return glide_index_ + static_cast<std::int64_t>(glide_way(glided_ + count)) >= end_;
        });
        glide_on(passed);
        return passed;
    }
    const int count = frames_until_end(frames);
    advance(count);
    return count;
}

/// Returns the position after `count` frames at a constant ratio: 64.64, multiplied exactly.
std::int64_t Voice::place_after(int count, std::uint64_t& fraction) const noexcept {
    const std::uint64_t low = step_fraction_ & 0xffffffffu, high = step_fraction_ >> 32,
                        times = static_cast<std::uint64_t>(count);
    const std::uint64_t from_low = low * times, from_high = high * times + (from_low >> 32);
    const std::uint64_t added = from_high << 32 | (from_low & 0xffffffffu);
    fraction = fraction_ + added;
    return index_ + count * step_ + static_cast<std::int64_t>(from_high >> 32) + (fraction < added ? 1 : 0);
}

/// Returns the fewest frames that reach the end, at most `frames`.
int Voice::frames_until_end(int frames) const noexcept {
    return fewest(frames, [&](int count) {
        std::uint64_t fraction = 0;
        return place_after(count, fraction) >= end_;
    });
}

void Voice::advance(int frames) noexcept {
    std::uint64_t fraction = 0;
    index_ = place_after(frames, fraction);
    fraction_ = fraction;
}

/// Filters one side of the clip at the positions in `scratch`, which are relative to the clip's frame `from`.
void Voice::filter_side(const dsp::Kernels& kernels, Scratch& scratch, int side, std::int64_t from, int frames,
                        float* out) const noexcept {
    const int before = std::max(filter_.before(), leaves_.before());
    const int reach = scratch.first[static_cast<std::size_t>(frames - 1)] + most_taps();
    const float* source = fetch(side, from - before, reach, scratch.source.data(), kernels);
    if (gliding_ && filter_.stretch == 1) set_rows(scratch, *filter_.filter, frames);
    apply(kernels, scratch, filter_, source + (before - filter_.before()), frames, out);
    if (!leaves_) return;
    if (leaves_.stretch == 1) set_rows(scratch, *leaves_.filter, frames);
    apply(kernels, scratch, leaves_, source + (before - leaves_.before()), frames, scratch.before.data());
    for (int i = 0; i < frames; ++i)
        out[i] += (scratch.before[static_cast<std::size_t>(i)] - out[i]) * scratch.share[static_cast<std::size_t>(i)];
}

void Voice::apply(const dsp::Kernels& kernels, Scratch& scratch, const dsp::Stretched& filter, const float* source,
                  int frames, float* out) const noexcept {
    if (filter.stretch == 1)
        kernels.interpolate(source, *filter.filter, scratch.places(), frames, out);
    else
        scratch.stretched.interpolate(kernels, source, filter, scratch.first.data(), scratch.fraction.data(), frames,
                                      out);
}

/// The same for a constant ratio above 2.
int Voice::place_stretched(Scratch& scratch, int frames) noexcept {
    const std::int64_t from = index_;
    int i = 0;
    for (; i < frames && index_ < end_; ++i) {
        scratch.first[static_cast<std::size_t>(i)] = static_cast<std::int32_t>(index_ - from);
        scratch.fraction[static_cast<std::size_t>(i)] = static_cast<std::uint32_t>(fraction_ >> 32);
        const std::uint64_t next = fraction_ + step_fraction_;
        index_ += step_ + (next < fraction_ ? 1 : 0);
        fraction_ = next;
    }
    return i;
}

/// The same for a constant ratio up to 2, the most common case.
int Voice::place(const dsp::Kernels& kernels, Scratch& scratch, int frames) noexcept {
    if (filter_.stretch > 1) return place_stretched(scratch, frames);
    const int count = frames_until_end(frames);
    const dsp::Stride stride{fraction_, step_fraction_, static_cast<std::uint32_t>(step_)};
    kernels.place(stride, *filter_.filter, count, scratch.first.data(), scratch.row.data(), scratch.blend.data());
    advance(count);
    return count;
}

bool Voice::mix_straight(const dsp::Kernels& kernels, Scratch& scratch, float level, int frames, float* left,
                         float* right, float& peak) noexcept {
    if (filter_ || stream_ || audio_->channels != 1 || frames > Scratch::most || index_ + frames >= end_) return false;
    const Lap::Run run = lap_->run(index_, turns_);
    if (run.in_crossfade || run.count < frames) return false;
    const float* source = scratch.left.data();
    if (audio_->wide.empty())
        kernels.widen(audio_->narrow.data() + run.from, frames, scratch.left.data());
    else
        source = audio_->wide.data() + run.from;
    kernels.mix_mono(source, gain_left_ * level, gain_right_ * level, left, right, frames, frames, &peak);
    index_ += frames;
    return true;
}

int Voice::mix(const dsp::Kernels& kernels, Scratch& scratch, const Shapes& shapes, dsp::Tone* tone, int frames,
               int first, float* left, float* right, std::span<float> peaks) noexcept {
    const bool stereo = audio_->channels == 2, parted = shapes.left != shapes.right;
    const float gain_left = gain_left_ * shapes.level, gain_right = gain_right_ * shapes.level;
    int done = 0;
    std::size_t cells = 0; // started so far
    while (done < frames && !over()) {
        const int ask =
            std::min(frames - done, first + Scratch::most - cell); // so that each later call begins with a cell
        const std::int64_t from = index_;
        int made = 0;
        if (filter_) {
            made = gliding_ ? place_gliding(scratch, ask) : place(kernels, scratch, ask);
        } else {
            made = static_cast<int>(std::min<std::int64_t>(ask, end_ - index_));
            index_ += made;
        }
        const float* sides[2] = {};
        float* const own[2] = {scratch.left.data(), scratch.right.data()};
        for (int side = 0; side < audio_->channels; ++side) {
            if (filter_) {
                filter_side(kernels, scratch, side, from, made, own[side]);
                sides[side] = own[side];
            } else {
                sides[side] = fetch(side, from, made, own[side], kernels);
            }
        }
        if (tone) {
            for (int side = 0; side < audio_->channels; ++side)
                if (sides[side] != own[side]) sides[side] = std::copy_n(sides[side], made, own[side]) - made;
            tone->process(own[0], stereo ? own[1] : nullptr, made);
        }
        if (shapes.left) {
            if (parted || stereo) { // the right side first: it may need the left one's source
                const float* source = stereo ? sides[1] : sides[0];
                for (int i = 0; i < made; ++i) own[1][i] = source[i] * shapes.right[done + i];
                sides[1] = own[1];
            }
            for (int i = 0; i < made; ++i) own[0][i] = sides[0][i] * shapes.left[done + i];
            sides[0] = own[0];
        }
        if (stereo || parted) {
            kernels.mix_side(sides[0], gain_left, left + done, made, first, peaks.data() + cells);
            kernels.mix_side(sides[1], gain_right, right + done, made, first, peaks.data() + cells);
        } else {
            kernels.mix_mono(sides[0], gain_left, gain_right, left + done, right + done, made, first,
                             peaks.data() + cells);
        }
        done += made;
        cells += Scratch::most / cell;
        first = cell;
    }
    if (stream_) stream_->pass(index_ - dsp::most_taps);
    return done;
}

} // namespace kiai::mixer
