#include "core/mixer/drawing.h"

#include "core/dsp/filter_bank.h"
#include "core/dsp/math.h"

#include <algorithm>
#include <cmath>

namespace kiai::mixer {
namespace {

double spread(const model::Spread& spread, bool bell, const model::Draw& draw, model::Purpose purpose) noexcept {
    const double even = bell ? (draw(purpose, 0) + draw(purpose, 1) + draw(purpose, 2)) / 3 : draw(purpose);
    return spread.from + (spread.to - spread.from) * even;
}

void vary(Mixed& mixed, const model::Vary& vary, const model::Draw& draw) noexcept {
    mixed.pitch += spread(vary.pitch, vary.bell, draw, model::Purpose::pitch);
    mixed.gain += spread(vary.gain, vary.bell, draw, model::Purpose::gain);
    mixed.pan += spread(vary.pan, vary.bell, draw, model::Purpose::pan);
    mixed.start += spread(vary.start, vary.bell, draw, model::Purpose::start);
    mixed.delay += spread(vary.delay, vary.bell, draw, model::Purpose::delay);
}

void follow(Mixed& mixed, const std::vector<model::Follow>& follows, const PlayNumbers& options) noexcept {
    for (const model::Follow& follow : follows) {
        if (follow.value == model::Value::strength) mixed.move(follow.target, follow.curve.at(options.strength));
        if (follow.value == model::Value::place) mixed.move(follow.target, follow.curve.at(options.place));
    }
}

} // namespace

double DrawnLayer::ratio(const model::Audio& audio, double pitch, int rate) const noexcept {
    return std::clamp(dsp::semitones_to_ratio(pitch) * audio.rate / rate, dsp::slowest, dsp::fastest);
}

Sides sides_of(const Mixed& mixed, double share, bool mono) noexcept {
    const double gain = dsp::db_to_gain(std::clamp(mixed.gain, -200.0, most_gain)) * share,
                 pan = std::clamp(mixed.pan, -1.0, 1.0);
    return mono ? Sides{gain * std::sqrt(1 - pan), gain * std::sqrt(1 + pan)}
                : Sides{gain * std::min(1.0, 1 - pan), gain * std::min(1.0, 1 + pan)};
}

Mixed mix_of(const PlannedSound& planned, const model::Clip& clip, const PlayNumbers& options,
             const model::Draw& draw) noexcept {
    const model::Sound& sound = *planned.sound;
    const model::Layer& layer = sound.layers[draw.layer];
    Mixed mixed;
    mixed.gain = clip.gain + sound.gain + layer.gain + options.gain;
    mixed.pitch = sound.pitch + layer.pitch + options.pitch;
    mixed.pan = sound.pan + layer.pan + options.pan;
    mixed.cutoffs = layer.cutoffs;
    vary(mixed, layer.vary, draw);
    vary(mixed, sound.vary, {draw.seed, draw.name, draw.count, model::all_layers});
    follow(mixed, layer.follows, options);
    follow(mixed, sound.follows, options);
    return mixed;
}

DrawnLayer draw_layer(const PlannedSound& planned, const std::vector<model::Clip>& clips, Picker& picker,
                      std::uint64_t heard, const PlayNumbers& options, const model::Draw& draw, int rate) noexcept {
    const model::Layer& layer = planned.sound->layers[draw.layer];
    DrawnLayer drawn;
    drawn.draw = draw;
    drawn.take = picker.next({draw.seed, draw.name, heard, draw.layer});
    drawn.heard = layer.chance >= 1 || draw(model::Purpose::chance) < layer.chance;
    if (options.layer > 0 && options.layer != static_cast<int>(draw.layer) + 1) drawn.heard = false;
    drawn.clip = layer.takes[static_cast<std::size_t>(drawn.take)];
    const Mixed& mixed = drawn.mixed = mix_of(planned, clips[static_cast<std::size_t>(drawn.clip)], options, draw);
    const PlannedTake& take = planned.layers[draw.layer].take(drawn.take, options);
    const double clip_rate = take.audio->rate;
    const double start = layer.start.exact_frames(take.written_rate) / take.written_rate; // seconds
    drawn.from = static_cast<Frames>(start * clip_rate + 0.5) +
                 static_cast<Frames>((mixed.start + options.start) * clip_rate + 0.5);
    drawn.delay = std::max<Frames>(0, layer.delay.frames(rate) + static_cast<Frames>(mixed.delay * rate + 0.5));
    return drawn;
}

} // namespace kiai::mixer
