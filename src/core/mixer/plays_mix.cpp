// How plays are mixed, measured and closed.
#include "core/dsp/math.h"
#include "core/mixer/items.h"
#include "core/mixer/plays.h"

#include <algorithm>
#include <array>
#include <iterator>

namespace kiai::mixer {
/// Takes the levels of a stretch that was mixed: whole cells go out, the begun one waits.
void Plays::measure(ActiveVoice& active, Frames now, int made, std::span<const float> peaks, bool over) noexcept {
    Play& play = item(plays_, active.play);
    const Frames end = now + made;
    Frames begin = now - now % dsp::cell;
    std::size_t c = 0;
    const bool kept = journal_.records_levels();
    for (; begin + dsp::cell <= end; begin += dsp::cell, ++c) {
        if (!play.layered) play.peak = std::max(play.peak, peaks[c]);
        if (kept) journal_.write_level({play.id, active.layer, begin, peaks[c]});
    }
    active.cell_peak = begin < end ? peaks[c] : 0;
    if (!over || begin >= end) return;
    if (!play.layered) play.peak = std::max(play.peak, active.cell_peak);
    journal_.write_level({play.id, active.layer, begin, active.cell_peak});
}

void Plays::end_voice(int slot, Frames end) noexcept {
    ActiveVoice& active = item(voices_, slot);
    Play& play = item(plays_, active.play);
    play.end = std::max(play.end, end);
    if (--play.voices == 0) ended_.push_back(active.play);
    active.play = none;
    if (Stream* stream = active.voice.stream())
        streams_.leave(*stream); // which is a user for as long as it is read
    else
        item(stories_, slot).users->fetch_sub(1, std::memory_order_release);
}

/// What moves a voice, as it is at a cell's first frame, or at its own.
void Plays::move_voice(int slot, Frames now) noexcept {
    ActiveVoice& active = item(voices_, slot);
    VoiceStory& story = item(stories_, slot);
    const Play& play = item(plays_, active.play);
    const bool begin = !story.moved.begun;
    story.moved.begun = true;
    const Moment moment{
        now,
        play.begun + play.skipped,
        rate_,
        story.drawn.draw,
        tables_.dials,
        std::span(tables_.own).subspan(static_cast<std::size_t>(active.play) * plan_->most_own(), plan_->most_own())};
    Mixed mixed = story.drawn.mixed;
    Moved& moved = story.moved;
    Smoothed* smoothed = tables_.smoothed.data() + static_cast<std::size_t>(slot) * plan_->most_movers();
    for (const Mover& mover : story.planned->movers) apply(mover, *smoothed++, moment, begin || moved.anew, mixed);
    moved.anew = false;
    double share = story.held ? moved.last_share : mixed.share(active.layer, plan_->at(play.sound).layers.size());
    if (moved.changed_at >= 0) {
        const double to_go = dsp::fall(static_cast<double>(now - moved.changed_at) / (change_seconds * rate_));
        mixed = between(mixed, moved.from, to_go);
        share += (moved.from_share - share) * to_go;
        if (to_go == 0) moved.changed_at = -1;
    }
    moved.last = mixed;
    moved.last_share = share;
    const Sides sides = sides_of(mixed, share, story.audio->channels == 1);
    auto& cells = moved.cells;
    if (begin)
        std::fill(std::begin(cells), std::end(cells), sides);
    else
        cells[0] = cells[1], cells[1] = cells[2], cells[2] = sides;
    if (story.planned->bends || moved.bends)
        active.voice.glide(story.drawn.ratio(*story.audio, mixed.pitch, rate_),
                           dsp::cell - static_cast<int>(now % dsp::cell), begin, filters_);
}

/// The gains between a voice's last three cells: a quadratic spline, which has no step and no bend.
Shapes Plays::moved_shapes(int slot, Frames now, int frames, const float* shape, float level) noexcept {
    const Sides* cells = item(stories_, slot).moved.cells;
    const auto first = static_cast<int>(now % dsp::cell);
    for (int i = 0; i < frames; ++i) {
        const double t = (first + i) / static_cast<double>(dsp::cell), u = 1 - t, all = shape ? shape[i] : level;
        const double a = 0.5 * u * u * all, b = (0.5 + t * u) * all, c = 0.5 * t * t * all;
        item(moved_left_, i) = static_cast<float>(a * cells[0].left + b * cells[1].left + c * cells[2].left);
        item(moved_right_, i) = static_cast<float>(a * cells[0].right + b * cells[1].right + c * cells[2].right);
    }
    return {moved_left_.data(), moved_right_.data(), 1};
}

/// How many of the next frames are of one kind, where a stream may not keep up: it falls silent before it has run dry,
/// and comes back once there is enough again. What was not heard is not lost: the voice waits where it is.
int Plays::flow(int slot, Frames now, int frames) noexcept {
    const ActiveVoice& active = item(voices_, slot);
    Flow& flow = item(stories_, slot).flow;
    const int fade = static_cast<int>(shortest_rise * rate_);
    if (flow.state == Flow::rising && now >= flow.since + flow.length) flow.state = Flow::even;
    if (flow.state == Flow::falling && now >= flow.since + flow.length) {
        flow.state = Flow::dry;
        flow.since = now;
    }
    if (flow.state == Flow::dry && active.voice.ready(rate_ / 10) == rate_ / 10) flow = {Flow::rising, now, fade};
    if (flow.state == Flow::even || flow.state == Flow::rising) {
        if (const int ready = active.voice.ready(frames + fade); ready < frames + fade) {
            const Play& late = item(plays_, active.play);
            decisions::Record record = late.cause;
            record.frame = now;
            record.outcome = Outcome::stream_late;
            record.sound = late.sound;
            record.play = late.id;
            journal_.write(record);
            flow = ready > 0 ? Flow{Flow::falling, now, std::min(ready, fade)} : Flow{Flow::dry, now, 1};
        }
    }
    if (flow.state == Flow::falling || flow.state == Flow::rising)
        return static_cast<int>(std::min<Frames>(frames, flow.since + flow.length - now));
    return frames;
}

/// Adds a stretch after the delay of the voice's layer; `shape` is null where the play has one gain.
void Plays::mix_part(int slot, Frames now, int frames, const float* shape, float* left, float* right) noexcept {
    ActiveVoice& active = item(voices_, slot);
    if (!active.voice.stream() || decide_only_) return mix_ready(slot, now, frames, shape, left, right);
    const Play& play = item(plays_, active.play);
    for (int done = 0; done < frames && active.play != none;) {
        const Frames at = now + done;
        const int part = flow(slot, at, frames - done);
        const float* own = shape ? shape + done : nullptr;
        const Flow& flow = item(stories_, slot).flow;
        if (flow.state == Flow::dry) {
            if (play.envelope.silent(at + part - play.skipped)) end_voice(slot, at + part);
            done += part;
            continue;
        }
        if (flow.state != Flow::even) {
            for (int i = 0; i < part; ++i) {
                const double way =
                    dsp::fall(static_cast<double>(at + i - flow.since) / static_cast<double>(flow.length));
                item(flow_, i) = (own ? own[i] : play.envelope.level()) *
                                 static_cast<float>(flow.state == Flow::falling ? way : 1 - way);
            }
            own = flow_.data();
        }
        mix_ready(slot, at, part, own, left + done, right + done);
        done += part;
    }
}

/// The same for frames that are there to be read.
void Plays::mix_ready(int slot, Frames now, int frames, const float* shape, float* left, float* right) noexcept {
    ActiveVoice& active = item(voices_, slot);
    const Play& play = item(plays_, active.play);
    const bool moved = active.moves;
    for (int done = 0; done < frames && active.play != none;) {
        const Frames at = now + done;
        const int to_cell = dsp::cell - static_cast<int>(at % dsp::cell);
        const int part = moved ? std::min(frames - done, to_cell) : frames - done;
        const float* own = shape ? shape + done : nullptr;
        if (moved && (to_cell == dsp::cell || !item(stories_, slot).moved.begun)) move_voice(slot, at);
        if (decide_only_) {
            done += active.voice.pass(part);
            if (active.voice.over() || play.envelope.silent(now + done - play.skipped)) end_voice(slot, now + done);
            continue;
        }
        const Shapes shapes = moved ? moved_shapes(slot, at, part, own, play.envelope.level())
                                    : Shapes{own, own, shape ? 1 : play.envelope.level()};
        std::array<float, most_frames / dsp::cell + 2> peaks{};
        peaks[0] = active.cell_peak;
        const int made = active.voice.mix(kernels_, scratch_, shapes, part, to_cell, left + done, right + done, peaks);
        const bool over = active.voice.over() || play.envelope.silent(at + made - play.skipped);
        measure(active, at, made, peaks, over);
        if (over) end_voice(slot, at + made);
        done += made;
    }
}

void Plays::mix_voice(int slot, Frames now, int frames, float* left, float* right) noexcept {
    ActiveVoice& active = item(voices_, slot);
    const Play& play = item(plays_, active.play);
    const bool steady = play.envelope.steady();
    const Frames begin = active.begin + play.skipped, risen = begin + active.rise;
    int done = static_cast<int>(std::clamp<Frames>(begin - now, 0, frames)); // its layer's delay
    if (done == frames && play.envelope.silent(now + frames - play.skipped)) return end_voice(slot, now + frames);
    if (now + done < risen && done < frames) {
        const int rising = static_cast<int>(std::min<Frames>(frames - done, risen - now - done));
        for (int i = 0; i < rising && !decide_only_; ++i) {
            const double part = static_cast<double>(now + done + i - begin) / static_cast<double>(active.rise);
            const float level = steady ? play.envelope.level() : item(shape_, done + i);
            item(rise_, i) = level * static_cast<float>(1 - dsp::fall(part));
        }
        mix_part(slot, now + done, rising, rise_.data(), left + done, right + done);
        done += rising;
    }
    if (done < frames && active.play != none)
        mix_part(slot, now + done, frames - done, steady ? nullptr : shape_.data() + done, left + done, right + done);
}

/// The voices of one play together, so that its level is that of their sum.
void Plays::mix_layers(int index, std::span<const int> voices, Frames now, int frames, float* left,
                       float* right) noexcept {
    Play& play = item(plays_, index);
    std::fill_n(sum_left_.begin(), frames, 0.0f);
    std::fill_n(sum_right_.begin(), frames, 0.0f);
    for (const int slot : voices)
        if (item(voices_, slot).play != none) mix_voice(slot, now, frames, sum_left_.data(), sum_right_.data());
    play.peak =
        std::max({play.peak, kernels_.peak(sum_left_.data(), frames), kernels_.peak(sum_right_.data(), frames)});
    for (int i = 0; i < frames; ++i) left[i] += sum_left_[static_cast<std::size_t>(i)];
    for (int i = 0; i < frames; ++i) right[i] += sum_right_[static_cast<std::size_t>(i)];
}

/// Cuts the time where the envelope changes its kind, so that where a block ends makes no difference.
void Plays::mix_play(int index, std::span<const int> voices, Frames now, int frames, float* left,
                     float* right) noexcept {
    Play& play = item(plays_, index);
    for (int done = 0; done < frames && play.voices > 0 && !play.frozen;) {
        const Frames own = now + done - play.skipped;
        if (play.pauses != 0 && play.envelope.arrived(own)) {
            play.frozen = true;
            play.frozen_at = now + done;
            break;
        }
        int left_over = frames - done;
        if (play.lasts > own) left_over = static_cast<int>(std::min<Frames>(left_over, play.lasts - own));
        if (play.lasts == own && play.lasts > 0) end_in_its_way(index, now + done, 0);
        const int stretch = play.envelope.stretch(own, left_over);
        if (!play.envelope.steady() && !decide_only_) play.envelope.write(own, stretch, shape_.data());
        if (play.layered && !decide_only_)
            mix_layers(index, voices, now + done, stretch, left + done, right + done);
        else
            for (const int slot : voices)
                if (item(voices_, slot).play != none) mix_voice(slot, now + done, stretch, left + done, right + done);
        done += stretch;
    }
}

void Plays::mix(Frames now, int frames, float* left, float* right) noexcept {
    if (streams_.in_step() && !decide_only_) streams_.fill();
    std::size_t kept = 0;
    for (std::size_t begin = 0, end = 0; begin < order_.size(); begin = end) {
        const int play = item(voices_, order_[begin]).play; // its voices stand side by side
        while (end < order_.size() && item(voices_, order_[end]).play == play) ++end;
        mix_play(play, {order_.data() + begin, end - begin}, now, frames, left, right);
        for (std::size_t i = begin; i < end; ++i) {
            if (item(voices_, order_[i]).play == none)
                free_voices_.push_back(order_[i]);
            else
                order_[kept++] = order_[i];
        }
    }
    order_.resize(kept);
    if (!ended_.empty()) close_ended();
}

void Plays::close_ended() noexcept {
    // By frame, not by voice: so the log is the same whatever the blocks.
    std::sort(ended_.begin(), ended_.end(), [&](int a, int b) {
        const Play &x = item(plays_, a), &y = item(plays_, b);
        return x.end != y.end ? x.end < y.end : x.id < y.id;
    });
    std::size_t waiting = 0;
    for (const int index : ended_) {
        Play& gone = item(plays_, index);
        if (is_awaited(gone) && ended_awaited_.size() == ended_awaited_.capacity()) {
            ended_[waiting++] = index; // it is closed once those before it have been answered
            continue;
        }
        uncount(index, gone.end);
        looping_ -= for_ever(gone) ? 1 : 0;
        take_out(item(tables_.sounds, gone.sound).line, &Play::of_sound, index);
        take_out(line_, &Play::of_all, index);
        if (gone.holder != 0) {
            Line& held = held_.at(gone.holder);
            take_out(held, &Play::of_holder, index);
            if (held.oldest == none) held_.remove(gone.holder);
        }
        decisions::Record record = gone.cause;
        record.frame = gone.end;
        record.outcome = Outcome::ended;
        record.reason = gone.reason;
        record.ended_by = gone.ended_by;
        record.play = gone.id;
        record.sound = gone.sound;
        record.peak = gone.peak;
        record.length = gone.end - gone.begun;
        record.counted = gone.counted_until - gone.begun;
        journal_.write(record);
        handles_.end(gone.handle, gone.reason, gone.end);
        if (is_awaited(gone)) {
            --awaited_;
            ended_awaited_.push_back({gone.sound, gone.run, gone.branch, gone.id, gone.end});
        }
        if (gone.handle.slot < play_of_slot_.size()) play_of_slot_[gone.handle.slot] = none;
        free_plays_.push_back(index);
        --sounding_;
    }
    ended_.resize(waiting);
}

} // namespace kiai::mixer
