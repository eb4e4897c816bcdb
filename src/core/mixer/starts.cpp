#include "core/mixer/starts.h"

#include <algorithm>
#include <iterator>
#include <limits>

namespace kiai::mixer {

/// Makes the choices of the play in case it may start; changes nothing else.
void Starts::draw(const Wanted& wanted) noexcept {
    const PlannedSound& planned = table_.plan->at(wanted.sound);
    SoundState& state = item(table_.tables.sounds, wanted.sound);
    for (std::uint32_t l = 0; l < planned.layers.size(); ++l)
        table_.tables.drawn[l] =
            draw_layer(planned, table_.plan->project().clips, state.picks[l], state.heard[l], wanted.options,
                       {table_.seed, planned.hash, state.accepted, l}, table_.rate);
}

int Starts::begin(const Wanted& wanted, Frames now) noexcept {
    const PlannedSound& planned = table_.plan->at(wanted.sound);
    SoundState& state = item(table_.tables.sounds, wanted.sound);
    const int chosen = table_.free_plays.back();
    table_.free_plays.pop_back();
    ActivePlay& play = item(table_.plays, chosen);
    play = ActivePlay{};
    play.id = table_.next_id++;
    play.sound = wanted.sound;
    play.begun = now;
    play.handle = wanted.handle;
    play.cause = wanted.cause;
    play.scope = wanted.scope;
    play.holder = wanted.holder;
    play.run = wanted.run;
    play.branch = wanted.branch;
    play.options = wanted.options;
    play.endless = planned.endless;
    if (wanted.options.turns != PlayNumbers::as_written) play.endless = wanted.options.turns == 0;
    play.lasts = wanted.lasts > 0 ? now + wanted.lasts : 0;
    play.first = std::numeric_limits<Frames>::max();
    play.own_bus = wanted.bus < 0;
    play.bus = play.route = static_cast<std::int16_t>(play.own_bus ? planned.sound->bus : wanted.bus);
    play.envelope.start(table_.rate, table_.level_of(play));
    std::fill_n(table_.tables.own.begin() +
                    static_cast<std::ptrdiff_t>(static_cast<std::size_t>(chosen) * table_.plan->most_own()),
                table_.plan->most_own(), 0.0);
    for (const NamedNumber& given : wanted.values)
        if (given.name != model::no_name) table_.set_value(chosen, given.name, given.value);
    if (wanted.handle.slot < table_.play_of_slot.size()) table_.play_of_slot[wanted.handle.slot] = chosen;

    for (std::uint32_t l = 0; l < planned.layers.size(); ++l)
        if (table_.tables.drawn[l].heard) {
            begin_layer(chosen, l, now);
            ++state.heard[l];
        }
    const auto heard = static_cast<std::size_t>(play.voices); // a layer may be left out by chance
    play.layered = heard > 1;
    if (heard == 0) {
        play.end = play.first = now;
        table_.ended.push_back(chosen);
    }
    ++state.accepted;
    state.last_start = now;
    for (const int bus : table_.buses_of(play)) item(table_.tables.last_on_bus, bus) = now;
    ++table_.sounding;
    table_.awaited += table_.is_awaited(play) ? 1 : 0;
    table_.append(item(table_.tables.sounds, play.sound).line, &ActivePlay::of_sound, chosen);
    table_.append(table_.line, &ActivePlay::of_all, chosen);
    if (play.holder != 0) table_.append(table_.held.at(play.holder), &ActivePlay::of_holder, chosen);
    table_.count(chosen);
    table_.tell(play, now);
    table_.handles.set_number(play.handle, play.id);

    decisions::Record record = wanted.cause;
    record.frame = now;
    record.outcome = Outcome::played;
    record.sound = wanted.sound;
    record.play = play.id;
    record.layers = static_cast<std::uint16_t>(heard);
    table_.journal.write(record, {table_.tables.layer_records.data(), heard});
    return chosen;
}

/// Makes a play that has just started rise over at least `frames`.
void Starts::rise_over(int index, Frames frames) noexcept {
    ActivePlay& play = item(table_.plays, index);
    for (auto slot = table_.order.rbegin(); slot != table_.order.rend() && item(table_.voices, *slot).play == index;
         ++slot) {
        ActiveVoice& active = item(table_.voices, *slot);
        active.rise = std::max(active.rise, frames);
        play.risen = std::max(play.risen, active.begin + active.rise);
    }
}

void Starts::begin_layer(int chosen, std::uint32_t number, Frames now) noexcept {
    ActivePlay& play = item(table_.plays, chosen);
    const PlannedSound& planned = table_.plan->at(play.sound);
    const DrawnLayer& drawn = table_.tables.drawn[number];
    const PlannedLayer& layer = planned.layers[number];
    const PlannedTake& take = layer.take(drawn.take, play.options);
    const model::Audio& audio = *take.audio;
    const double share = drawn.mixed.share(number, planned.layers.size());
    const Sides sides = sides_of(drawn.mixed, share, audio.channels == 1);

    const int slot = table_.free_voices.back();
    table_.free_voices.pop_back();
    ActiveVoice& active = item(table_.voices, slot);
    VoiceStory& story = item(table_.stories, slot);
    const Lap& lap = take.lap;
    story = {&layer, &lap, &audio, &table_.plan->users(), false, drawn, {}, {}};
    std::fill(std::begin(story.moved.cells), std::end(story.moved.cells), sides);
    story.moved.last = drawn.mixed;
    story.moved.last_share = share;
    story.users->fetch_add(1, std::memory_order_relaxed);
    active.moves = !layer.movers.empty(); // then its gains come cell by cell
    active.toned = layer.toned;
    if (active.toned) item(table_.tables.tones, slot).start(drawn.mixed.cutoffs, table_.rate);
    const std::int64_t turns = turns_of(lap, play.options);
    Stream* stream = table_.stream_for(story, turns, drawn.from);
    if (stream) ++play.counted_streams;
    active.voice.start(audio, lap, turns, stream, drawn.from, drawn.ratio(audio, drawn.mixed.pitch, table_.rate),
                       active.moves ? 1.0f : static_cast<float>(sides.left),
                       active.moves ? 1.0f : static_cast<float>(sides.right), table_.filters);
    active.play = chosen;
    active.begin = now + drawn.delay;
    const auto asked = static_cast<Frames>(play.options.fade_in * table_.rate + 0.5);
    const auto shortest = static_cast<Frames>(shortest_rise * table_.rate);
    active.rise = std::max(planned.fade_in, drawn.from > 0 || asked > 0 ? std::max(asked, shortest) : 0);
    active.curve = asked > planned.fade_in ? play.options.curve : planned.sound->fade_in_curve;
    play.first = std::min(play.first, active.begin);
    play.risen = std::max(play.risen, active.begin + active.rise);
    active.layer = number;
    active.cell_peak = 0;
    table_.order.push_back(slot);

    decisions::LayerRecord& record = table_.tables.layer_records[static_cast<std::size_t>(play.voices)];
    record.layer = static_cast<std::int32_t>(drawn.draw.layer);
    record.clip = drawn.clip;
    record.take = drawn.take + 1;
    record.takes = static_cast<std::int32_t>(layer.takes.size());
    record.pitch = static_cast<float>(drawn.mixed.pitch);
    record.gain = static_cast<float>(drawn.mixed.gain + item(table_.plan->buses().all, play.bus).decibels);
    record.share = static_cast<float>(share);
    record.pan = static_cast<float>(std::clamp(drawn.mixed.pan, -1.0, 1.0));
    record.delay = drawn.delay;
    ++play.voices;
}

} // namespace kiai::mixer
