// How plays begin, and how they are told to end.
#include "core/mixer/plays.h"

#include "core/dsp/math.h"
#include "core/mixer/items.h"

#include <algorithm>
#include <iterator>
#include <limits>

namespace kiai::mixer {
namespace {
constexpr double steal_seconds = 0.01, takeover_seconds = 0.015;
} // namespace

Plays::Tables::Tables(const Plan& plan, std::size_t plays)
    : own(plays * plan.most_own()), on_bus(plan.project().buses.size()), bus_levels(plan.project().buses.size()),
      drawn(plan.most_layers()), layer_records(plan.most_layers()), smoothed(plays * plan.most_movers()) {
    for (const PlannedSound& planned : plan.sounds()) {
        SoundState& state = sounds.emplace_back();
        for (const model::Layer& layer : planned.sound->layers) state.picks.emplace_back(layer);
        state.heard.resize(state.picks.size());
    }
    for (const model::Dial& dial : plan.project().dials) dials.push_back(dial.start);
}

Plays::Plays(const Plan& plan, Journal& journal, Handles& handles, const dsp::Kernels& kernels, int rate,
             std::uint64_t seed, int voices, Streams& streams, bool decide_only)
    : plan_(&plan), journal_(journal), handles_(handles), kernels_(kernels), rate_(rate), seed_(seed),
      most_voices_(voices), streams_(streams), decide_only_(decide_only), tables_(plan, most_plays(voices)),
      play_of_slot_(handles.size(), none), held_(most_plays(voices)), shape_(most_frames), rise_(most_frames),
      flow_(most_frames), moved_left_(dsp::cell), moved_right_(dsp::cell), sum_left_(most_frames),
      sum_right_(most_frames) {
    const std::size_t all = most_plays(voices);
    plays_.resize(all);
    victims_.reserve(all);
    voices_.resize(all);
    stories_.resize(all);
    order_.reserve(all);
    ended_.reserve(all);
    ended_awaited_.reserve(all);
    for (int i = static_cast<int>(all) - 1; i >= 0; --i) {
        free_plays_.push_back(i);
        free_voices_.push_back(i);
    }
}

/// What it would be if it may begin; asking changes nothing.
void Plays::draw(const Wanted& wanted) noexcept {
    const PlannedSound& planned = plan_->at(wanted.sound);
    SoundState& state = item(tables_.sounds, wanted.sound);
    for (std::uint32_t l = 0; l < planned.layers.size(); ++l)
        tables_.drawn[l] = draw_layer(planned, plan_->project().clips, state.picks[l], state.heard[l], wanted.options,
                                      {seed_, planned.hash, state.accepted, l}, rate_);
}

std::uint32_t Plays::request(const Wanted& wanted, Frames now) noexcept {
    if (const model::Sound& sound = *plan_->at(wanted.sound).sound; sound.pending || sound.unready) {
        decisions::Record record = wanted.cause;
        record.frame = now;
        record.outcome = sound.pending ? Outcome::pending : Outcome::not_ready;
        record.sound = wanted.sound;
        journal_.write(record);
        handles_.end(wanted.handle, EndReason::none, now);
        return 0;
    }
    victims_.clear();
    bool soon = too_soon(wanted, now);
    if (soon && item(tables_.sounds, wanted.sound).last_start == now) // of contacts at one frame the strongest is heard
        if (const int weaker = weaker_contact(wanted, 0, now); weaker != none) {
            soon = false;
            item(plays_, weaker).chosen = true;
            victims_.push_back({weaker, decisions::Record::gap, model::Full::stronger_contact});
        }
    if (!soon) draw(wanted);
    if (refused(wanted, soon, now)) {
        handles_.end(wanted.handle, EndReason::none, now);
        return 0;
    }
    bool young = false;
    for (const Victim& victim : victims_) {
        Play& gone = item(plays_, victim.play);
        decisions::Record record = wanted.cause;
        record.frame = now;
        record.outcome = Outcome::stolen;
        record.sound = gone.sound;
        record.play = gone.id;
        record.other = next_id_;
        record.rule = victim.rule;
        note_limit(record, victim.limit, wanted.sound, now);
        journal_.write(record);
        gone.chosen = false;
        young = steal(victim.play, now, wanted.cause.cause) || young;
    }
    const int begun = begin(wanted, now);
    // What takes over from a play that has hardly begun rises while that one falls: many within a few ms do not add up.
    if (young) rise_over(begun, static_cast<Frames>(takeover_seconds * rate_));
    return next_id_ - 1;
}

int Plays::begin(const Wanted& wanted, Frames now) noexcept {
    const PlannedSound& planned = plan_->at(wanted.sound);
    SoundState& state = item(tables_.sounds, wanted.sound);
    const int chosen = free_plays_.back();
    free_plays_.pop_back();
    Play& play = item(plays_, chosen);
    play = Play{};
    play.id = next_id_++;
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
    play.lasts = wanted.lasts > 0 ? now + wanted.lasts : 0;
    play.first = std::numeric_limits<Frames>::max();
    play.envelope.start(rate_, level_of(play));
    std::fill_n(tables_.own.begin() + static_cast<std::ptrdiff_t>(static_cast<std::size_t>(chosen) * plan_->most_own()),
                plan_->most_own(), 0.0);
    for (const NamedNumber& given : wanted.values)
        if (given.name != model::no_name) set_own(chosen, given.name, given.value);
    if (wanted.handle.slot < play_of_slot_.size()) play_of_slot_[wanted.handle.slot] = chosen;

    for (std::uint32_t l = 0; l < planned.layers.size(); ++l)
        if (tables_.drawn[l].heard) {
            begin_layer(chosen, l, now);
            ++state.heard[l];
        }
    const auto heard = static_cast<std::size_t>(play.voices); // a layer may be left out by chance
    play.layered = heard > 1;
    if (heard == 0) {
        play.end = play.first = now;
        ended_.push_back(chosen);
    }
    ++state.accepted;
    state.last_start = now;
    ++sounding_;
    awaited_ += is_awaited(play) ? 1 : 0;
    append(item(tables_.sounds, play.sound).line, &Play::of_sound, chosen);
    append(line_, &Play::of_all, chosen);
    if (play.holder != 0) append(held_.at(play.holder), &Play::of_holder, chosen);
    count(chosen);
    tell(play, now);

    decisions::Record record = wanted.cause;
    record.frame = now;
    record.outcome = Outcome::played;
    record.sound = wanted.sound;
    record.play = play.id;
    record.layers = static_cast<std::uint16_t>(heard);
    journal_.write(record, {tables_.layer_records.data(), heard});
    return chosen;
}

/// Makes a play that has just begun rise over at least `frames`.
void Plays::rise_over(int index, Frames frames) noexcept {
    Play& play = item(plays_, index);
    for (auto slot = order_.rbegin(); slot != order_.rend() && item(voices_, *slot).play == index; ++slot) {
        ActiveVoice& active = item(voices_, *slot);
        active.rise = std::max(active.rise, frames);
        play.risen = std::max(play.risen, active.begin + active.rise);
    }
}

void Plays::begin_layer(int chosen, std::uint32_t number, Frames now) noexcept {
    Play& play = item(plays_, chosen);
    const PlannedSound& planned = plan_->at(play.sound);
    const DrawnLayer& drawn = tables_.drawn[number];
    const model::Audio& audio = *item(plan_->project().clips, drawn.clip).audio;
    const double share = drawn.mixed.share(number, planned.layers.size());
    const Sides sides = sides_of(drawn.mixed, share, audio.channels == 1);

    const int slot = free_voices_.back();
    free_voices_.pop_back();
    ActiveVoice& active = item(voices_, slot);
    VoiceStory& story = item(stories_, slot);
    const PlannedLayer& layer = planned.layers[number];
    const Lap& lap = item(layer.laps, drawn.take);
    story = {&layer, &lap, &audio, &plan_->users(), false, drawn, {}, {}};
    std::fill(std::begin(story.moved.cells), std::end(story.moved.cells), sides);
    story.moved.last = drawn.mixed;
    story.moved.last_share = share;
    story.users->fetch_add(1, std::memory_order_relaxed);
    active.moves = !layer.movers.empty(); // then its gains come cell by cell
    // What a filter reaches before its place is read too.
    Stream* stream = audio.stream ? streams_.claim(audio, lap, drawn.from - dsp::most_taps, *story.users) : nullptr;
    if (stream) ++play.counted_streams;
    active.voice.start(audio, lap, stream, drawn.from, drawn.ratio(audio, drawn.mixed.pitch, rate_),
                       active.moves ? 1.0f : static_cast<float>(sides.left),
                       active.moves ? 1.0f : static_cast<float>(sides.right), filters_);
    active.play = chosen;
    active.begin = now + drawn.delay;
    active.rise = std::max(planned.fade_in, drawn.from > 0 ? static_cast<Frames>(shortest_rise * rate_) : 0);
    play.first = std::min(play.first, active.begin);
    play.risen = std::max(play.risen, active.begin + active.rise);
    active.layer = number;
    active.cell_peak = 0;
    order_.push_back(slot);

    decisions::Record& record = tables_.layer_records[static_cast<std::size_t>(play.voices)];
    record = {};
    record.play = play.id;
    record.layer = static_cast<std::int32_t>(drawn.draw.layer);
    record.clip = drawn.clip;
    record.take = drawn.take + 1;
    record.takes = static_cast<std::int32_t>(layer.laps.size());
    record.pitch = static_cast<float>(drawn.mixed.pitch);
    record.gain = static_cast<float>(drawn.mixed.gain);
    record.share = static_cast<float>(share);
    record.pan = static_cast<float>(std::clamp(drawn.mixed.pan, -1.0, 1.0));
    record.length = drawn.delay;
    ++play.voices;
}

void Plays::append(Line& line, Link Play::*link, int index) noexcept {
    item(plays_, index).*link = {line.newest, none};
    (line.newest == none ? line.oldest : (item(plays_, line.newest).*link).newer) = index;
    line.newest = index;
}

void Plays::take_out(Line& line, Link Play::*link, int index) noexcept {
    const Link own = item(plays_, index).*link;
    (own.older == none ? line.oldest : (item(plays_, own.older).*link).newer) = own.newer;
    (own.newer == none ? line.newest : (item(plays_, own.newer).*link).older) = own.older;
}

void Plays::count(int index) noexcept {
    Play& play = item(plays_, index);
    play.counted = true;
    ++item(tables_.sounds, play.sound).counted;
    for (const int bus : plan_->at(play.sound).buses) ++item(tables_.on_bus, bus);
    looping_ += for_ever(play) ? 1 : 0;
    play.counted_voices = play.voices;
    counted_voices_ += play.voices;
    counted_streams_ += play.counted_streams;
}

/// From now on no limit counts it: it has ended, or was told to.
void Plays::uncount(int index, Frames now) noexcept {
    Play& play = item(plays_, index);
    if (!play.counted) return;
    looping_ -= for_ever(play) ? 1 : 0;
    play.counted = false;
    play.counted_until = now;
    looping_ += for_ever(play) ? 1 : 0;
    --item(tables_.sounds, play.sound).counted;
    for (const int bus : plan_->at(play.sound).buses) --item(tables_.on_bus, bus);
    counted_voices_ -= play.counted_voices;
    counted_streams_ -= play.counted_streams;
}

/// Ends a play in favour of another. True if it was heard for so short a time that both might add up.
bool Plays::steal(int index, Frames now, std::uint64_t by) noexcept {
    Play& play = item(plays_, index);
    const auto fade = static_cast<Frames>(steal_seconds * rate_);
    const bool young = now - play.skipped - play.first < fade;
    if (!unheard(play, now)) {
        end_early(index, now, young ? 0 : fade, EndReason::stolen, by);
        return young;
    }
    play.reason = EndReason::stolen;
    play.ended_by = by;
    drop(index, now);
    return false;
}

/// Takes out a play of which nothing was mixed yet: it never sounds.
void Plays::drop(int index, Frames now) noexcept {
    Play& play = item(plays_, index);
    auto last = order_.end(); // its voices stand side by side, and it is one of the newest
    while (last != order_.begin() && item(voices_, *(last - 1)).play != index) --last;
    auto first = last;
    while (first != order_.begin() && item(voices_, *(first - 1)).play == index) --first;
    for (auto slot = first; slot != last; ++slot) {
        end_voice(*slot, now);
        free_voices_.push_back(*slot);
    }
    order_.erase(first, last);
    play.end = now;
    close_ended();
}

/// False where it ends as soon anyhow.
bool Plays::end_early(int index, Frames now, Frames fade, EndReason reason, std::uint64_t by) noexcept {
    Play& play = item(plays_, index);
    if (play.pauses != 0) fade = 0; // nothing of it is heard
    thaw(play, now);
    if (now - play.skipped < play.risen) fade = std::max(fade, static_cast<Frames>(shortest_fall_of_rising * rate_));
    looping_ -= for_ever(play) ? 1 : 0;
    play.pauses = 0;
    looping_ += for_ever(play) ? 1 : 0;
    if (!play.envelope.fade(now - play.skipped, fade)) return false;
    play.reason = reason;
    play.ended_by = by;
    uncount(index, now);
    tell(play, now);
    return true;
}

/// Lets each loop finish its turn and play its tail; false where one of them has none, so that the play has to fade.
bool Plays::finish_turns(int index) noexcept {
    const auto each = [&](const auto& use) {
        for (const int slot : order_)
            if (item(voices_, slot).play == index) use(slot);
    };
    bool tails = false, endless = false;
    each([&](int slot) {
        const Lap& lap = *item(stories_, slot).lap;
        tails = tails || lap.tail;
        endless = endless || (!lap.tail && lap.turns == Lap::endless);
    });
    if (!tails || endless) return false;
    each([&](int slot) { item(voices_, slot).voice.finish_turn(); });
    return true;
}

bool Plays::end_in_its_way(int index, Frames now, std::uint64_t by) noexcept {
    Play& play = item(plays_, index);
    if (!play.counted) return false; // it is ending
    if (play.pauses != 0 || !finish_turns(index))
        return end_early(index, now, plan_->at(play.sound).fade_out, EndReason::stopped, by);
    play.reason = EndReason::stopped;
    play.ended_by = by;
    uncount(index, now);
    tell(play, now);
    return true;
}

} // namespace kiai::mixer
