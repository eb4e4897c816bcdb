#include "core/mixer/play_table.h"

#include "core/dsp/math.h"

#include <algorithm>

namespace kiai::mixer {

PlayTable::PlayTable(const Plan& first_plan, Journal& to_journal, Handles& all_handles, Streams& all_streams,
                     BusMeters& bus_meters, BusInserts& bus_inserts, PlayBoard& play_board, int sample_rate,
                     std::uint64_t chance_seed, int voices_counted, bool only_decides)
    : plan(&first_plan), journal(to_journal), handles(all_handles), streams(all_streams), meters(bus_meters),
      inserts(bus_inserts), board(play_board), rate(sample_rate), seed(chance_seed), most_voices(voices_counted),
      decide_only(only_decides), tables(first_plan, most_plays(voices_counted)),
      play_of_slot(all_handles.size(), no_play), held(most_plays(voices_counted)) {
    const std::size_t all = most_plays(voices_counted);
    plays.resize(all);
    voices.resize(all);
    stories.resize(all);
    order.reserve(all);
    ended.reserve(all);
    ended_awaited.reserve(all);
    for (int i = static_cast<int>(all) - 1; i >= 0; --i) {
        free_plays.push_back(i);
        free_voices.push_back(i);
    }
}

void PlayTable::append(PlayLine& to, PlayLink ActivePlay::*link, int index) noexcept {
    item(plays, index).*link = {to.newest, no_play};
    (to.newest == no_play ? to.oldest : (item(plays, to.newest).*link).newer) = index;
    to.newest = index;
}

void PlayTable::take_out(PlayLine& from, PlayLink ActivePlay::*link, int index) noexcept {
    const PlayLink own = item(plays, index).*link;
    (own.older == no_play ? from.oldest : (item(plays, own.older).*link).newer) = own.newer;
    (own.newer == no_play ? from.newest : (item(plays, own.newer).*link).older) = own.older;
}

void PlayTable::count(int index) noexcept {
    ActivePlay& play = item(plays, index);
    play.counted = true;
    ++item(tables.sounds, play.sound).counted;
    for (const int bus : buses_of(play)) ++item(tables.on_bus, bus);
    looping += play.for_ever() ? 1 : 0;
    count_for_ducks(play, play.begun);
    play.counted_voices = play.voices;
    counted_voices += play.voices;
    counted_streams += play.counted_streams;
}

/// From now on no limit counts the play, because it ended or was stopped.
void PlayTable::uncount(int index, Frames now) noexcept {
    ActivePlay& play = item(plays, index);
    if (!play.counted) return;
    looping -= play.for_ever() ? 1 : 0;
    play.counted = false;
    play.counted_until = now;
    count_for_ducks(play, now);
    looping += play.for_ever() ? 1 : 0;
    --item(tables.sounds, play.sound).counted;
    for (const int bus : buses_of(play)) --item(tables.on_bus, bus);
    counted_voices -= play.counted_voices;
    counted_streams -= play.counted_streams;
}

bool PlayTable::belongs(const ActivePlay& play, Which which) const noexcept {
    const auto number = static_cast<int>(which.number);
    if (which.within >= 0) {
        const auto& buses = buses_of(play);
        if (std::find(buses.begin(), buses.end(), which.within) == buses.end()) return false;
    }
    switch (which.kind) {
    case Which::Kind::sound:
        return play.sound == number;
    case Which::Kind::bus: {
        const auto& buses = buses_of(play);
        return std::find(buses.begin(), buses.end(), number) != buses.end();
    }
    case Which::Kind::scope:
        return play.scope == number;
    case Which::Kind::held:
        return play.holder == which.number;
    case Which::Kind::run:
        return play.run == which.number;
    case Which::Kind::all:
        return true;
    }
    return false;
}

float PlayTable::level_of(const ActivePlay& play) const noexcept {
    const bool still = play.pauses != 0 || play.rerouting || play.seeking;
    const float level = still ? 0 : play.gain * item(tables.sounds, play.sound).level.now();
    return std::min(level, static_cast<float>(dsp::db_to_gain(most_gain)));
}

void PlayTable::count_for_ducks(ActivePlay& play, Frames now) noexcept {
    const bool ducks = play.counted && play.pauses == 0;
    if (ducks == play.ducks) return;
    play.ducks = ducks;
    const auto& buses = buses_of(play);
    ducks ? tables.ducks.add(buses) : tables.ducks.remove(buses, now);
}

/// The play continues from where it was paused.
void PlayTable::thaw(ActivePlay& play, Frames now) noexcept {
    if (!play.frozen) return;
    play.frozen = false;
    play.skipped += now - play.frozen_at;
}

/// Updates the answers of the play's handle.
void PlayTable::tell(const ActivePlay& play, Frames now) noexcept {
    const PlayState state = play.pauses != 0 ? PlayState::paused
                            : play.counted   ? PlayState::playing
                                             : PlayState::fading;
    handles.tell(play.handle, state, play.begun + play.skipped, now);
    const int of = play.sound;
    PlayBoard::Shown shown;
    shown.id = play.id;
    shown.sound = of;
    shown.bus = play.bus;
    shown.scope = play.scope;
    shown.state = state;
    shown.begin = play.begun + play.skipped;
    shown.stood_at = now;
    board.write(static_cast<std::size_t>(&play - plays.data()), shown);
}

void PlayTable::tell_place(const ActivePlay& play, std::span<const int> its_voices) noexcept {
    if (play.handle.slot == no_handle) return;
    for (const int slot : its_voices) {
        const ActiveVoice& active = item(voices, slot);
        if (active.play == no_play) continue;
        const Voice& voice = active.voice;
        return handles.tell_place(play.handle, voice.place(), voice.rate(), voice.turns_left());
    }
}

bool PlayTable::is_awaited(const ActivePlay& play) const noexcept {
    if (play.replaced) return false;
    return play.branch >= 0 || plan->at(play.sound).awaited;
}

int PlayTable::find(Handles::Handle handle) const noexcept {
    if (handle.slot >= play_of_slot.size()) return no_play;
    const int index = play_of_slot[handle.slot];
    return index != no_play && item(plays, index).handle.generation == handle.generation ? index : no_play;
}

void PlayTable::make_movable(int index, bool bends, bool unheard) noexcept {
    for (const int slot : order) {
        ActiveVoice& active = item(voices, slot);
        if (active.play != index) continue;
        Moved& moved = item(stories, slot).moved;
        moved.bends = moved.bends || bends;
        if (active.moves) continue;
        active.moves = true;
        active.voice.shape_only();
        moved.begun = !unheard;
    }
}

bool PlayTable::set_value(int index, model::NameId name, double value) noexcept {
    const int sound = item(plays, index).sound;
    const auto& names = plan->at(sound).own_names;
    const auto at = std::find(names.begin(), names.end(), name);
    if (at == names.end()) return false;
    tables.own[static_cast<std::size_t>(index) * plan->most_own() + static_cast<std::size_t>(at - names.begin())] =
        value;
    return true;
}

Stream* PlayTable::stream_for(const VoiceStory& story, std::int64_t turns, std::int64_t from) noexcept {
    if (!story.audio->stream) return nullptr;
    // The frames that a filter reaches before its position are also read.
    return streams.claim(*story.audio, *story.lap, turns, from - dsp::most_taps, *story.users);
}

void PlayTable::end_voice(int slot, Frames end) noexcept {
    ActiveVoice& active = item(voices, slot);
    ActivePlay& play = item(plays, active.play);
    play.end = std::max(play.end, end);
    if (--play.voices == 0) ended.push_back(active.play);
    active.play = no_play;
    if (Stream* stream = active.voice.stream())
        streams.leave(*stream); // which is a user for as long as it is read
    else
        item(stories, slot).users->fetch_sub(1, std::memory_order_release);
}

void PlayTable::close_ended() noexcept {
    // Sorted by frame, not by voice, so that the log does not depend on the block size.
    std::sort(ended.begin(), ended.end(), [&](int a, int b) {
        const ActivePlay &x = item(plays, a), &y = item(plays, b);
        return x.end != y.end ? x.end < y.end : x.id < y.id;
    });
    std::size_t waiting = 0;
    for (const int index : ended) {
        ActivePlay& gone = item(plays, index);
        if (is_awaited(gone) && ended_awaited.size() == ended_awaited.capacity()) {
            ended[waiting++] = index; // it is closed once those before it have been answered
            continue;
        }
        uncount(index, gone.end);
        looping -= gone.for_ever() ? 1 : 0;
        take_out(item(tables.sounds, gone.sound).line, &ActivePlay::of_sound, index);
        take_out(line, &ActivePlay::of_all, index);
        if (gone.holder != 0) {
            PlayLine& others = held.at(gone.holder);
            take_out(others, &ActivePlay::of_holder, index);
            if (others.oldest == no_play) held.remove(gone.holder);
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
        journal.write(record);
        handles.end(gone.handle, gone.reason, gone.end);
        if (is_awaited(gone)) {
            --awaited;
            ended_awaited.push_back({gone.sound, gone.run, gone.branch, gone.id, gone.end});
        }
        board.write(static_cast<std::size_t>(index), {});
        if (gone.handle.slot < play_of_slot.size()) play_of_slot[gone.handle.slot] = no_play;
        free_plays.push_back(index);
        --sounding;
    }
    ended.resize(waiting);
}

} // namespace kiai::mixer
