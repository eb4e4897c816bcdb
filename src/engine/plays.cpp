#include "engine/plays.h"

#include "dsp/math.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace kiai::engine {
namespace {

constexpr double give_way_seconds = 0.01;
constexpr double shortest_rise_seconds = 0.005; // of what begins inside a clip: less is heard as a click

template<class T>
auto& at(T& items, int index) noexcept {
    return items[static_cast<std::size_t>(index)];
}

/// Straight pieces through the points; before the first and after the last their values hold.
double along(const std::vector<std::pair<double, double>>& curve, double x) noexcept {
    if (x <= curve.front().first) return curve.front().second;
    for (std::size_t i = 1; i < curve.size(); ++i) {
        const auto& [x0, y0] = curve[i - 1];
        const auto& [x1, y1] = curve[i];
        if (x < x1) return y0 + (y1 - y0) * (x - x0) / (x1 - x0);
    }
    return curve.back().second;
}

double spread(const model::Spread& spread, bool bell, const Draw& draw, Purpose purpose) noexcept {
    const double even = bell ? (draw(purpose, 0) + draw(purpose, 1) + draw(purpose, 2)) / 3 : draw(purpose);
    return spread.from + (spread.to - spread.from) * even;
}

/// What a layer plays with: sound, layer, spread, follow and call added up.
struct Mixed {
    double gain = 0, pitch = 0, pan = 0;
    double start = 0, delay = 0; ///< seconds, of the spreads alone

    void vary(const model::Vary& vary, const Draw& draw) noexcept {
        pitch += spread(vary.pitch, vary.bell, draw, Purpose::pitch);
        gain += spread(vary.gain, vary.bell, draw, Purpose::gain);
        pan += spread(vary.pan, vary.bell, draw, Purpose::pan);
        start += spread(vary.start, vary.bell, draw, Purpose::start);
        delay += spread(vary.delay, vary.bell, draw, Purpose::delay);
    }
};

constexpr std::uint32_t all_layers = 0xffff; ///< the layer number of what is drawn once for a whole play

Mixed add_up(const model::Sound& sound, const model::Layer& layer, const model::Clip& clip, const PlayOptions& options,
             const Draw& draw) {
    Mixed mixed{clip.gain + sound.gain + layer.gain + options.gain, sound.pitch + layer.pitch + options.pitch,
                sound.pan + layer.pan + options.pan};
    mixed.vary(layer.vary, draw);
    mixed.vary(sound.vary, {draw.seed, draw.name, draw.count, all_layers});
    for (const model::Follow& follow : layer.follows) {
        const double moved =
            along(follow.curve, follow.value == model::Value::strength ? options.strength : options.place);
        (follow.moves == model::Moves::gain    ? mixed.gain
         : follow.moves == model::Moves::pitch ? mixed.pitch
                                               : mixed.pan) += moved;
    }
    mixed.pan = std::clamp(mixed.pan, -1.0, 1.0);
    return mixed;
}

} // namespace

Plays::Plays(const Plan& plan, Journal& journal, Handles& handles, const dsp::Kernels& kernels, int rate,
             std::uint64_t seed, int voices)
    : plan_(plan), journal_(journal), handles_(handles), kernels_(kernels), rate_(rate), seed_(seed),
      most_voices_(voices), play_of_slot_(handles.size(), none), shape_(most_frames), rise_(most_frames) {
    std::size_t most_layers = 1;
    for (const PlannedSound& planned : plan.sounds()) {
        SoundState state;
        for (const model::Layer& layer : planned.sound->layers) state.picks.emplace_back(layer);
        most_layers = std::max(most_layers, planned.sound->layers.size());
        sounds_.push_back(std::move(state));
    }
    const auto all = static_cast<std::size_t>(voices) * 2;
    plays_.resize(all);
    voices_.resize(all);
    order_.reserve(all);
    ended_.reserve(all);
    layer_records_.resize(most_layers);
    for (int i = static_cast<int>(all) - 1; i >= 0; --i) {
        free_plays_.push_back(i);
        free_voices_.push_back(i);
    }
}

/// Gap, then the sound's limit, then the engine's voices. Only looks; what gives way is carried out once all agree.
bool Plays::refused(const Wanted& wanted, Frames now) noexcept {
    const PlannedSound& planned = plan_.at(wanted.sound);
    const SoundState& state = at(sounds_, wanted.sound);
    const auto layers = planned.sound->layers.size();
    const bool at_limit = state.counted >= planned.sound->limit.plays;
    const int freed =
        at_limit ? at(plays_, state.oldest).counted_voices : 0; // the oldest stops counting before this one counts

    Record record = wanted.cause;
    record.frame = now;
    record.sound = wanted.sound;
    if (state.last_start >= 0 && now - state.last_start < planned.gap)
        record.outcome = Outcome::refused_gap;
    else if (at_limit && planned.sound->limit.full == model::Full::refuse)
        record.outcome = Outcome::refused_limit;
    else if (counted_voices_ - freed + static_cast<int>(layers) > most_voices_ || free_voices_.size() < layers ||
             free_plays_.empty())
        record.outcome = Outcome::refused_full;
    else
        return false;
    journal_.write(record);
    handles_.end(wanted.handle, EndReason::none);
    return true;
}

void Plays::request(const Wanted& wanted, Frames now) noexcept {
    if (refused(wanted, now)) return;
    const SoundState& state = at(sounds_, wanted.sound);
    const int oldest = state.counted >= plan_.at(wanted.sound).sound->limit.plays ? state.oldest : none;
    const int chosen = free_plays_.back();
    free_plays_.pop_back();
    if (oldest != none) {
        Record record = wanted.cause;
        record.frame = now;
        record.outcome = Outcome::gave_way;
        record.sound = wanted.sound;
        record.play = at(plays_, oldest).id;
        record.other = next_id_;
        journal_.write(record);
        end_early(oldest, now, static_cast<Frames>(give_way_seconds * rate_), EndReason::gave_way, wanted.cause.cause);
    }
    begin(wanted, chosen, now);
}

void Plays::begin(const Wanted& wanted, int chosen, Frames now) noexcept {
    const PlannedSound& planned = plan_.at(wanted.sound);
    const model::Sound& sound = *planned.sound;
    SoundState& state = at(sounds_, wanted.sound);
    Play& play = at(plays_, chosen);
    play = Play{};
    play.id = next_id_++;
    play.sound = wanted.sound;
    play.begun = now;
    play.handle = wanted.handle;
    play.cause = wanted.cause;
    play.envelope.start(rate_);
    if (wanted.handle.slot < play_of_slot_.size()) play_of_slot_[wanted.handle.slot] = chosen;

    for (std::uint32_t l = 0; l < sound.layers.size(); ++l) begin_layer(wanted, chosen, l, now);
    const auto heard = static_cast<std::size_t>(play.voices); // a layer may be left out by chance
    if (heard == 0) {
        play.end = now;
        ended_.push_back(chosen);
    }
    ++state.accepted;
    state.last_start = now;
    ++sounding_;
    count(chosen);

    Record record = wanted.cause;
    record.frame = now;
    record.outcome = Outcome::played;
    record.sound = wanted.sound;
    record.play = play.id;
    record.layers = static_cast<std::uint16_t>(heard);
    journal_.write(record, {layer_records_.data(), heard});
}

void Plays::begin_layer(const Wanted& wanted, int chosen, std::uint32_t number, Frames now) noexcept {
    const PlannedSound& planned = plan_.at(wanted.sound);
    const model::Layer& layer = planned.sound->layers[number];
    SoundState& state = at(sounds_, wanted.sound);
    Play& play = at(plays_, chosen);
    const Draw draw{seed_, planned.hash, state.accepted, number};
    const int take = state.picks[number].next(draw);
    if (layer.chance < 1 && draw(Purpose::chance) >= layer.chance) return;
    const int clip_index = at(layer.takes, take);
    const model::Clip& clip = at(plan_.project().clips, clip_index);
    const Mixed mixed = add_up(*planned.sound, layer, clip, wanted.options, draw);
    const double ratio = dsp::semitones_to_ratio(mixed.pitch) * clip.audio->rate / rate_;
    const double gain = dsp::db_to_gain(mixed.gain);
    // A mono clip at constant power, 0 dB in the middle; of a stereo one the near side stays and the far one falls.
    const bool mono = clip.audio->channels == 1;
    const double left = mono ? std::sqrt(1 - mixed.pan) : std::min(1.0, 1 - mixed.pan);
    const double right = mono ? std::sqrt(1 + mixed.pan) : std::min(1.0, 1 + mixed.pan);

    const int slot = free_voices_.back();
    free_voices_.pop_back();
    ActiveVoice& active = at(voices_, slot);
    const int clip_rate = clip.audio->rate;
    const Frames from = layer.start.frames(clip_rate) + static_cast<Frames>(mixed.start * clip_rate + 0.5);
    active.voice.start(*clip.audio, from, std::clamp(ratio, dsp::slowest, dsp::fastest), planned.sound->endless,
                       static_cast<float>(gain * left), static_cast<float>(gain * right), filters_);
    active.play = chosen;
    active.begin =
        now + std::max<Frames>(0, layer.delay.frames(rate_) + static_cast<Frames>(mixed.delay * rate_ + 0.5));
    active.rise = std::max(planned.fade_in, from > 0 ? static_cast<Frames>(shortest_rise_seconds * rate_) : 0);
    active.layer = number;
    active.cell_peak = 0;
    order_.push_back(slot);

    Record& record = layer_records_[static_cast<std::size_t>(play.voices)];
    record = {};
    record.play = play.id;
    record.clip = clip_index;
    record.take = take + 1;
    record.takes = static_cast<std::int32_t>(layer.takes.size());
    record.pitch = static_cast<float>(mixed.pitch);
    record.gain = static_cast<float>(mixed.gain);
    record.pan = static_cast<float>(mixed.pan);
    record.length = active.begin - now;
    ++play.voices;
}

void Plays::count(int index) noexcept {
    Play& play = at(plays_, index);
    SoundState& state = at(sounds_, play.sound);
    play.counted = true;
    play.older = state.newest;
    play.newer = none;
    (state.newest == none ? state.oldest : at(plays_, state.newest).newer) = index;
    state.newest = index;
    ++state.counted;
    looping_ += plan_.at(play.sound).sound->endless ? 1 : 0;
    play.counted_voices = play.voices;
    counted_voices_ += play.voices;
}

/// From now on no limit counts it: it has ended, or was told to.
void Plays::uncount(int index) noexcept {
    Play& play = at(plays_, index);
    if (!play.counted) return;
    SoundState& state = at(sounds_, play.sound);
    play.counted = false;
    (play.older == none ? state.oldest : at(plays_, play.older).newer) = play.newer;
    (play.newer == none ? state.newest : at(plays_, play.newer).older) = play.older;
    --state.counted;
    looping_ -= plan_.at(play.sound).sound->endless ? 1 : 0;
    counted_voices_ -= play.counted_voices;
}

void Plays::end_early(int index, Frames now, Frames fade, EndReason reason, std::uint64_t by) noexcept {
    Play& play = at(plays_, index);
    if (!play.envelope.fade(now, fade)) return;
    play.reason = reason;
    play.ended_by = by;
    uncount(index);
}

void Plays::stop_sound(int sound, Record record, Frames now) noexcept {
    record.frame = now;
    record.sound = sound;
    record.count = 0;
    const SoundState& state = at(sounds_, sound);
    while (state.oldest != none) {
        ++record.count;
        end_early(state.oldest, now, plan_.at(sound).fade_out, EndReason::stopped, record.cause);
    }
    record.outcome = record.count > 0 ? Outcome::stopped : Outcome::nothing_to_stop;
    journal_.write(record);
}

void Plays::stop_loops(double seconds, std::uint64_t by, Frames now) noexcept {
    for (std::size_t s = 0; s < sounds_.size(); ++s)
        while (plan_.sounds()[s].sound->endless && sounds_[s].oldest != none)
            end_early(sounds_[s].oldest, now, static_cast<Frames>(seconds * rate_), EndReason::stopped, by);
}

int Plays::find(Handles::Handle handle) const noexcept {
    if (handle.slot >= play_of_slot_.size()) return none;
    const int index = play_of_slot_[handle.slot];
    return index != none && at(plays_, index).handle.generation == handle.generation ? index : none;
}

void Plays::stop_play(Handles::Handle handle, double seconds, std::uint64_t by, Frames now) noexcept {
    const int index = find(handle);
    if (index != none) end_early(index, now, static_cast<Frames>(seconds * rate_), EndReason::stopped, by);
}

void Plays::set_gain(Handles::Handle handle, double decibels, Frames now) noexcept {
    const int index = find(handle);
    if (index != none) at(plays_, index).envelope.move_to(static_cast<float>(dsp::db_to_gain(decibels)), now);
}

/// Takes the levels of a stretch that was mixed: whole cells go out, the begun one waits.
void Plays::measure(ActiveVoice& active, Frames now, int made, std::span<const float> peaks, bool over) noexcept {
    Play& play = at(plays_, active.play);
    const Frames end = now + made;
    Frames begin = now - now % dsp::cell;
    std::size_t c = 0;
    for (; begin + dsp::cell <= end; begin += dsp::cell, ++c) {
        play.peak = std::max(play.peak, peaks[c]);
        journal_.write_level({play.id, active.layer, begin, peaks[c]});
    }
    active.cell_peak = begin < end ? peaks[c] : 0;
    if (!over || begin >= end) return;
    play.peak = std::max(play.peak, active.cell_peak);
    journal_.write_level({play.id, active.layer, begin, active.cell_peak});
}

void Plays::end_voice(ActiveVoice& active, Frames end) noexcept {
    Play& play = at(plays_, active.play);
    play.end = std::max(play.end, end);
    if (--play.voices == 0) ended_.push_back(active.play);
    active.play = none;
}

/// Adds a stretch after the delay of the voice's layer; `shape` is null where the play has one gain.
void Plays::mix_part(ActiveVoice& active, Frames now, int frames, const float* shape, float* left,
                     float* right) noexcept {
    Play& play = at(plays_, active.play);
    std::array<float, most_frames / dsp::cell + 2> peaks{};
    peaks[0] = active.cell_peak;
    const int first = dsp::cell - static_cast<int>(now % dsp::cell);
    const int made = active.voice.mix(kernels_, scratch_, shape, shape ? 1.0f : play.envelope.level(), frames, first,
                                      left, right, peaks);
    const bool over = active.voice.over() || play.envelope.silent(now + made);
    measure(active, now, made, peaks, over);
    if (over) end_voice(active, now + made);
}

void Plays::mix_voice(ActiveVoice& active, Frames now, int frames, float* left, float* right) noexcept {
    const Play& play = at(plays_, active.play);
    const bool steady = play.envelope.steady();
    const Frames risen = active.begin + active.rise;
    int done = static_cast<int>(std::clamp<Frames>(active.begin - now, 0, frames)); // its layer's delay
    if (done == frames && play.envelope.silent(now + frames)) return end_voice(active, now + frames);
    if (now + done < risen && done < frames) {
        const int rising = static_cast<int>(std::min<Frames>(frames - done, risen - now - done));
        for (int i = 0; i < rising; ++i) {
            const double part = static_cast<double>(now + done + i - active.begin) / static_cast<double>(active.rise);
            const float level = steady ? play.envelope.level() : at(shape_, done + i);
            at(rise_, i) = level * static_cast<float>(1 - dsp::fall(part));
        }
        mix_part(active, now + done, rising, rise_.data(), left + done, right + done);
        done += rising;
    }
    if (done < frames && active.play != none)
        mix_part(active, now + done, frames - done, steady ? nullptr : shape_.data() + done, left + done, right + done);
}

/// Cuts the time where the envelope changes its kind, so that where a block ends makes no difference.
void Plays::mix_play(Play& play, std::span<const int> voices, Frames now, int frames, float* left,
                     float* right) noexcept {
    for (int done = 0; done < frames && play.voices > 0;) {
        const int stretch = play.envelope.stretch(now + done, frames - done);
        if (!play.envelope.steady()) play.envelope.write(now + done, stretch, shape_.data());
        for (const int slot : voices)
            if (ActiveVoice& active = at(voices_, slot); active.play != none)
                mix_voice(active, now + done, stretch, left + done, right + done);
        done += stretch;
    }
}

void Plays::mix(Frames now, int frames, float* left, float* right) noexcept {
    std::size_t kept = 0;
    for (std::size_t begin = 0, end = 0; begin < order_.size(); begin = end) {
        const int play = at(voices_, order_[begin]).play; // its voices stand side by side
        while (end < order_.size() && at(voices_, order_[end]).play == play) ++end;
        mix_play(at(plays_, play), {order_.data() + begin, end - begin}, now, frames, left, right);
        for (std::size_t i = begin; i < end; ++i) {
            if (at(voices_, order_[i]).play == none)
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
        const Play &x = at(plays_, a), &y = at(plays_, b);
        return x.end != y.end ? x.end < y.end : x.id < y.id;
    });
    for (const int index : ended_) {
        Play& gone = at(plays_, index);
        uncount(index);
        Record record = gone.cause;
        record.frame = gone.end;
        record.outcome = Outcome::ended;
        record.reason = gone.reason;
        record.ended_by = gone.ended_by;
        record.play = gone.id;
        record.sound = gone.sound;
        record.peak = gone.peak;
        record.length = gone.end - gone.begun;
        journal_.write(record);
        handles_.end(gone.handle, gone.reason);
        if (gone.handle.slot < play_of_slot_.size()) play_of_slot_[gone.handle.slot] = none;
        free_plays_.push_back(index);
        --sounding_;
    }
    ended_.clear();
}

} // namespace kiai::engine
