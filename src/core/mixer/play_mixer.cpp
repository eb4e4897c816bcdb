#include "core/mixer/play_mixer.h"

#include "core/dsp/math.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <iterator>

namespace kiai::mixer {

namespace {
float with_gain(float peak, double gain) noexcept {
    return static_cast<float>(static_cast<double>(peak) * gain);
}
} // namespace

PlayMixer::PlayMixer(PlayTable& table, Endings& endings, const dsp::Kernels& kernels)
    : table_(table), endings_(endings), seeks_(table), kernels_(kernels), shape_(most_frames), rise_(most_frames),
      flow_(most_frames), moved_left_(dsp::cell), moved_right_(dsp::cell), sum_left_(most_frames),
      sum_right_(most_frames) {}

/// Takes the levels of a mixed stretch: whole cells are written, an incomplete one waits. A cell counts with the gain
/// of its buses at its last frame.
void PlayMixer::measure(ActiveVoice& active, Frames now, int made, std::span<const float> peaks, bool over) noexcept {
    ActivePlay& play = item(table_.plays, active.play);
    const Frames end = now + made;
    Frames begin = now - now % dsp::cell;
    const auto whole = static_cast<std::size_t>((end - begin) / dsp::cell);
    const bool begun = begin + static_cast<Frames>(whole) * dsp::cell < end;
    const std::size_t cells = whole + (over && begun ? 1 : 0);
    active.cell_peak = begun ? peaks[whole] : 0;
    const BusGains& gains = table_.tables.gains;
    if (!table_.journal.records_levels() && gains.heard_steadily(play.route)) {
        if (play.layered) return;
        float most = 0;
        for (std::size_t c = 0; c < cells; ++c) most = std::max(most, peaks[c]);
        play.peak = std::max(play.peak, with_gain(most, gains.heard(play.route, now)));
        return;
    }
    for (std::size_t c = 0; c < cells; ++c, begin += dsp::cell) {
        const Frames last = std::max(now, std::min(begin + dsp::cell, end) - 1); // nothing may have been made
        const float heard = with_gain(peaks[c], gains.heard(play.route, last));
        if (!play.layered) play.peak = std::max(play.peak, heard);
        table_.journal.write_level({play.id, active.layer, begin, heard});
    }
}

/// Computes what moves a voice, at a cell's first frame or at its own.
void PlayMixer::move_voice(int slot, Frames now) noexcept {
    ActiveVoice& active = item(table_.voices, slot);
    VoiceStory& story = item(table_.stories, slot);
    const ActivePlay& play = item(table_.plays, active.play);
    const bool begin = !story.moved.begun;
    story.moved.begun = true;
    const Moment moment{
        now,
        play.begun + play.skipped,
        table_.rate,
        story.drawn.draw,
        table_.tables.dials,
        std::span(table_.tables.own)
            .subspan(static_cast<std::size_t>(active.play) * table_.plan->most_own(), table_.plan->most_own()),
        play.options.strength,
        play.options.place};
    Mixed mixed = story.drawn.mixed;
    Moved& moved = story.moved;
    Smoothed* smoothed = table_.tables.smoothed.data() + static_cast<std::size_t>(slot) * table_.plan->most_movers();
    for (const Mover& mover : story.planned->movers) apply(mover, *smoothed++, moment, begin || moved.restarted, mixed);
    moved.restarted = false;
    mixed.pitch += play.pitch.value(now - play.skipped);
    mixed.pan += play.pan.value(now - play.skipped);
    double share = story.held ? moved.last_share : mixed.share(active.layer, table_.plan->at(play.sound).layers.size());
    if (moved.changed_at >= 0) {
        const double to_go = dsp::fall(static_cast<double>(now - moved.changed_at) / (change_seconds * table_.rate));
        mixed = between(mixed, moved.from, to_go);
        share += (moved.from_share - share) * to_go;
        if (to_go == 0) moved.changed_at = -1;
    }
    moved.last = mixed;
    moved.last_share = share;
    if (active.toned && !table_.decide_only) {
        dsp::Tone& tone = item(table_.tables.tones, slot);
        begin ? tone.start(mixed.cutoffs, table_.rate) : tone.next_cell(mixed.cutoffs, table_.rate);
    }
    const Sides sides = sides_of(mixed, share, story.audio->channels == 1);
    auto& cells = moved.cells;
    if (begin)
        std::fill(std::begin(cells), std::end(cells), sides);
    else
        cells[0] = cells[1], cells[1] = cells[2], cells[2] = sides;
    if (story.planned->bends || moved.bends)
        active.voice.glide(story.drawn.ratio(*story.audio, mixed.pitch, table_.rate),
                           dsp::cell - static_cast<int>(now % dsp::cell), begin, table_.filters);
}

/// Returns the gains between a voice's last three cells: a quadratic spline, which has no step and no corner.
Shapes PlayMixer::moved_shapes(int slot, Frames now, int frames, const float* shape, float level) noexcept {
    const Sides* cells = item(table_.stories, slot).moved.cells;
    const auto first = static_cast<int>(now % dsp::cell);
    for (int i = 0; i < frames; ++i) {
        const double t = (first + i) / static_cast<double>(dsp::cell), u = 1 - t, all = shape ? shape[i] : level;
        const double a = 0.5 * u * u * all, b = (0.5 + t * u) * all, c = 0.5 * t * t * all;
        item(moved_left_, i) = static_cast<float>(a * cells[0].left + b * cells[1].left + c * cells[2].left);
        item(moved_right_, i) = static_cast<float>(a * cells[0].right + b * cells[1].right + c * cells[2].right);
    }
    return {moved_left_.data(), moved_right_.data(), 1};
}

/// Returns how many of the next frames are of one kind if a stream may be late: the voice falls silent before the
/// stream runs dry, and returns when there is enough. Nothing is lost, because the voice waits at its position.
int PlayMixer::flow(int slot, Frames now, int frames) noexcept {
    const ActiveVoice& active = item(table_.voices, slot);
    Flow& flow = item(table_.stories, slot).flow;
    const int fade = static_cast<int>(shortest_rise * table_.rate);
    if (flow.state == Flow::rising && now >= flow.since + flow.length) flow.state = Flow::even;
    if (flow.state == Flow::falling && now >= flow.since + flow.length) {
        flow.state = Flow::dry;
        flow.since = now;
    }
    if (flow.state == Flow::dry && active.voice.ready(table_.rate / 10) == table_.rate / 10)
        flow = {Flow::rising, now, fade};
    if (flow.state == Flow::even || flow.state == Flow::rising) {
        if (const int ready = active.voice.ready(frames + fade); ready < frames + fade) {
            const ActivePlay& late = item(table_.plays, active.play);
            decisions::Record record = late.cause;
            record.frame = now;
            record.outcome = Outcome::stream_late;
            record.sound = late.sound;
            record.play = late.id;
            table_.journal.write(record);
            flow = ready > 0 ? Flow{Flow::falling, now, std::min(ready, fade)} : Flow{Flow::dry, now, 1};
        }
    }
    if (flow.state == Flow::falling || flow.state == Flow::rising)
        return static_cast<int>(std::min<Frames>(frames, flow.since + flow.length - now));
    return frames;
}

/// Adds a stretch after the delay of the voice's layer; `shape` is null if the play has one gain.
void PlayMixer::mix_part(int slot, Frames now, int frames, const float* shape, float* left, float* right) noexcept {
    ActiveVoice& active = item(table_.voices, slot);
    if (!active.voice.stream() || table_.decide_only) return mix_ready(slot, now, frames, shape, left, right);
    const ActivePlay& play = item(table_.plays, active.play);
    for (int done = 0; done < frames && active.play != no_play;) {
        const Frames at = now + done;
        const int part = flow(slot, at, frames - done);
        const float* own = shape ? shape + done : nullptr;
        const Flow& flow = item(table_.stories, slot).flow;
        if (flow.state == Flow::dry) {
            if (play.envelope.silent(at + part - play.skipped)) table_.end_voice(slot, at + part);
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

/// The same for frames that are available.
void PlayMixer::mix_ready(int slot, Frames now, int frames, const float* shape, float* left, float* right) noexcept {
    ActiveVoice& active = item(table_.voices, slot);
    const ActivePlay& play = item(table_.plays, active.play);
    const bool moved = active.moves;
    for (int done = 0; done < frames && active.play != no_play;) {
        const Frames at = now + done;
        const int to_cell = dsp::cell - static_cast<int>(at % dsp::cell);
        const int part = moved ? std::min(frames - done, to_cell) : frames - done;
        const float* own = shape ? shape + done : nullptr;
        if (moved && (to_cell == dsp::cell || !item(table_.stories, slot).moved.begun)) move_voice(slot, at);
        if (table_.decide_only) {
            done += active.voice.pass(part);
            if (active.voice.over() || play.envelope.silent(now + done - play.skipped))
                table_.end_voice(slot, now + done);
            continue;
        }
        const Shapes shapes = moved ? moved_shapes(slot, at, part, own, play.envelope.level())
                                    : Shapes{own, own, shape ? 1 : play.envelope.level()};
        std::array<float, most_frames / dsp::cell + 2> peaks{};
        peaks[0] = active.cell_peak;
        const int made =
            active.voice.mix(kernels_, scratch_, shapes, active.toned ? &item(table_.tables.tones, slot) : nullptr,
                             part, to_cell, left + done, right + done, peaks);
        const bool over = active.voice.over() || play.envelope.silent(at + made - play.skipped);
        measure(active, at, made, peaks, over);
        if (over) table_.end_voice(slot, at + made);
        done += made;
    }
}

void PlayMixer::mix_voice(int slot, Frames now, int frames, float* left, float* right) noexcept {
    ActiveVoice& active = item(table_.voices, slot);
    const ActivePlay& play = item(table_.plays, active.play);
    const bool steady = play.envelope.steady();
    const Frames begin = active.begin + play.skipped, risen = begin + active.rise;
    int done = static_cast<int>(std::clamp<Frames>(begin - now, 0, frames)); // its layer's delay
    if (done == frames && play.envelope.silent(now + frames - play.skipped))
        return table_.end_voice(slot, now + frames);
    if (now + done < risen && done < frames) {
        const int rising = static_cast<int>(std::min<Frames>(frames - done, risen - now - done));
        for (int i = 0; i < rising && !table_.decide_only; i += dsp::cell) {
            const int count = std::min(dsp::cell, rising - i);
            double parts[dsp::cell];
            write_risen(active.curve, now + done + i - begin, active.rise, count, parts);
            for (int k = 0; k < count; ++k) {
                const float level = steady ? play.envelope.level() : item(shape_, done + i + k);
                item(rise_, i + k) = level * static_cast<float>(parts[k]);
            }
        }
        mix_part(slot, now + done, rising, rise_.data(), left + done, right + done);
        done += rising;
    }
    if (done < frames && active.play != no_play)
        mix_part(slot, now + done, frames - done, steady ? nullptr : shape_.data() + done, left + done, right + done);
}

/// Measures the sum of a play's layers.
void PlayMixer::measure_sum(ActivePlay& play, Frames now, int frames) noexcept {
    const BusGains& gains = table_.tables.gains;
    if (gains.heard_steadily(play.route)) {
        const float peak = std::max(kernels_.peak(sum_left_.data(), frames), kernels_.peak(sum_right_.data(), frames));
        play.peak = std::max(play.peak, with_gain(peak, gains.heard(play.route, now)));
        return;
    }
    for (int i = 0; i < frames; ++i) {
        const float peak = std::max(std::abs(item(sum_left_, i)), std::abs(item(sum_right_, i)));
        play.peak = std::max(play.peak, with_gain(peak, gains.heard(play.route, now + i)));
    }
}

/// Mixes the voices of one play together, so that the measured level is that of their sum.
void PlayMixer::mix_layers(int index, std::span<const int> voices, Frames now, int frames, float* left,
                           float* right) noexcept {
    ActivePlay& play = item(table_.plays, index);
    std::fill_n(sum_left_.begin(), frames, 0.0f);
    std::fill_n(sum_right_.begin(), frames, 0.0f);
    for (const int slot : voices)
        if (item(table_.voices, slot).play != no_play)
            mix_voice(slot, now, frames, sum_left_.data(), sum_right_.data());
    measure_sum(play, now, frames);
    for (int i = 0; i < frames; ++i) left[i] += sum_left_[static_cast<std::size_t>(i)];
    for (int i = 0; i < frames; ++i) right[i] += sum_right_[static_cast<std::size_t>(i)];
}

/// The common case: one voice, unpitched, at a constant gain. It takes a third of the time of the general way and gives
/// the same result. Returns false, with no effect, for any other play.
bool PlayMixer::mix_plain(ActivePlay& play, int slot, Frames now, int frames) noexcept {
    ActiveVoice& active = item(table_.voices, slot);
    const BusGains& gains = table_.tables.gains;
    if (play.pauses != 0 || play.frozen || play.rerouting || play.seeking || play.layered || play.lasts > 0 ||
        !play.envelope.rests() || active.moves || active.toned || now - play.skipped < active.begin + active.rise ||
        !gains.heard_steadily(play.route))
        return false;
    const BusMixer::Sides bus = table_.tables.buses.open(play.route);
    float peak = 0;
    if (!active.voice.mix_straight(kernels_, scratch_, play.envelope.level(), frames, bus.left, bus.right, peak))
        return false;
    play.peak = std::max(play.peak, with_gain(peak, gains.heard(play.route, now)));
    return true;
}

/// Cuts the time at changes of the envelope's kind, so that the end of a block makes no difference.
void PlayMixer::mix_long(ActivePlay& play, int index, std::span<const int> voices, Frames now, int frames) noexcept {
    for (int done = 0; done < frames && play.voices > 0 && !play.frozen;) {
        const Frames own = now + done - play.skipped;
        if ((play.rerouting || play.seeking) && play.envelope.arrived(own)) { // it has fallen silent
            if (play.seeking) seeks_.go(play, voices);
            play.rerouting = play.seeking = false;
            play.route = play.bus;
            play.envelope.move_to(table_.level_of(play), own);
        }
        if (play.pauses != 0 && play.envelope.arrived(own)) {
            play.frozen = true;
            play.frozen_at = now + done;
            break;
        }
        int left_over = frames - done;
        if (play.lasts > own) left_over = static_cast<int>(std::min<Frames>(left_over, play.lasts - own));
        if (play.lasts == own && play.lasts > 0) endings_.end_in_its_way(index, now + done, 0);
        const int stretch = play.envelope.stretch(own, left_over);
        if (!play.envelope.steady() && !table_.decide_only) play.envelope.write(own, stretch, shape_.data());
        const BusMixer::Sides bus = table_.tables.buses.open(play.route);
        if (play.layered && !table_.decide_only)
            mix_layers(index, voices, now + done, stretch, bus.left + done, bus.right + done);
        else
            for (const int slot : voices)
                if (item(table_.voices, slot).play != no_play)
                    mix_voice(slot, now + done, stretch, bus.left + done, bus.right + done);
        done += stretch;
    }
}

void PlayMixer::mix_play(int index, std::span<const int> voices, Frames now, int frames) noexcept {
    ActivePlay& play = item(table_.plays, index);
    if (!whole_cells_ || voices.size() != 1 || !mix_plain(play, voices.front(), now, frames))
        mix_long(play, index, voices, now, frames);
    if (play.voices > 0 && table_.handles.places_wanted()) table_.tell_place(play, voices);
}

void PlayMixer::mix(Frames now, int frames, float* left, float* right) noexcept {
    if (table_.streams.in_step() && !table_.decide_only) table_.streams.fill();
    PlayTables& tables = table_.tables;
    tables.ducks.look(now, tables.gains, table_.journal);
    tables.gains.begin(now, frames);
    tables.buses.begin(now, frames, left, right);
    whole_cells_ =
        !table_.decide_only && !table_.journal.records_levels() && now % dsp::cell == 0 && frames % dsp::cell == 0;
    std::size_t kept = 0;
    for (std::size_t begin = 0, end = 0; begin < table_.order.size(); begin = end) {
        const int play = item(table_.voices, table_.order[begin]).play; // the voices of a play are contiguous
        while (end < table_.order.size() && item(table_.voices, table_.order[end]).play == play) ++end;
        mix_play(play, {table_.order.data() + begin, end - begin}, now, frames);
        for (std::size_t i = begin; i < end; ++i) {
            if (item(table_.voices, table_.order[i]).play == no_play)
                table_.free_voices.push_back(table_.order[i]);
            else
                table_.order[kept++] = table_.order[i];
        }
    }
    table_.order.resize(kept);
    if (!table_.decide_only)
        tables.buses.mix(tables.gains, tables.dials, table_.inserts, table_.meters, table_.journal);
    if (!table_.ended.empty()) table_.close_ended();
}

} // namespace kiai::mixer
