// What plays are told while they sound: by their handles, or together by what they have in common.
#include "core/dsp/math.h"
#include "core/mixer/items.h"
#include "core/mixer/plays.h"

#include <algorithm>

namespace kiai::mixer {

bool Plays::belongs(const Play& play, Which which) const noexcept {
    const auto number = static_cast<int>(which.number);
    switch (which.kind) {
    case Which::Kind::sound:
        return play.sound == number;
    case Which::Kind::bus: {
        const auto& buses = plan_->at(play.sound).buses;
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

/// Calls `use` with each of them that sounds, though it may be ending, oldest first.
template<class Use>
void Plays::for_each(Which which, const Use& use) noexcept {
    if (which.kind == Which::Kind::held) {
        const Line* held = held_.find(which.number);
        for (int i = held ? held->oldest : none; i != none;) {
            const int next = item(plays_, i).of_holder.newer; // `use` may take it out
            use(i);
            i = next;
        }
        return;
    }
    const bool many = which.kind != Which::Kind::sound;
    const auto link = many ? &Play::of_all : &Play::of_sound;
    const Line& line = many ? line_ : item(tables_.sounds, static_cast<int>(which.number)).line;
    for (int i = line.oldest; i != none; i = (item(plays_, i).*link).newer)
        if (belongs(item(plays_, i), which)) use(i);
}

int Plays::stop(Which which, double seconds, std::uint64_t by, Frames now) noexcept {
    int ended = 0;
    for_each(which, [&](int index) {
        const bool ends = seconds < 0
                              ? end_in_its_way(index, now, by)
                              : end_early(index, now, static_cast<Frames>(seconds * rate_), EndReason::stopped, by);
        ended += ends ? 1 : 0;
    });
    return ended;
}

int Plays::leave(int scope, double seconds, std::uint64_t by, Frames now) noexcept {
    int ended = 0;
    for_each({Which::Kind::scope, static_cast<std::uint64_t>(scope)}, [&](int index) {
        const Play& play = item(plays_, index);
        if (plan_->at(play.sound).sound->outlives && play.holder == 0) return; // what held it has ended
        if (end_early(index, now, static_cast<Frames>(seconds * rate_), EndReason::scope_left, by)) ++ended;
    });
    return ended;
}

void Plays::stop_loops(double seconds, std::uint64_t by, Frames now) noexcept {
    for_each({}, [&](int index) {
        if (for_ever(item(plays_, index)))
            end_early(index, now, static_cast<Frames>(seconds * rate_), EndReason::stopped, by);
    });
}

bool Plays::sounds(int sound) const noexcept {
    return item(tables_.sounds, sound).counted > 0;
}

float Plays::level_of(const Play& play) const noexcept {
    float level = play.pauses != 0 ? 0 : play.gain * item(tables_.sounds, play.sound).level.now();
    for (const int bus : plan_->at(play.sound).buses) level *= item(tables_.bus_levels, bus).now();
    return std::min(level, static_cast<float>(dsp::db_to_gain(most_gain)));
}

void Plays::relevel(Which which, double seconds, Frames now) noexcept {
    for_each(which, [&](int index) {
        Play& play = item(plays_, index);
        play.envelope.move_to(level_of(play), (play.frozen ? play.frozen_at : now) - play.skipped,
                              static_cast<Frames>(seconds * rate_));
    });
}

void Plays::set_sound_gain(int sound, double decibels, double seconds, Frames now) noexcept {
    item(tables_.sounds, sound).level.gain = static_cast<float>(dsp::db_to_gain(decibels));
    relevel({Which::Kind::sound, static_cast<std::uint64_t>(sound)}, seconds, now);
}

void Plays::set_bus_gain(int bus, double decibels, double seconds, Frames now) noexcept {
    item(tables_.bus_levels, bus).gain = static_cast<float>(dsp::db_to_gain(decibels));
    relevel({Which::Kind::bus, static_cast<std::uint64_t>(bus)}, seconds, now);
}

void Plays::mute_sound(int sound, bool on, Frames now) noexcept {
    item(tables_.sounds, sound).level.muted = on;
    relevel({Which::Kind::sound, static_cast<std::uint64_t>(sound)}, 0, now);
}

void Plays::mute_bus(int bus, bool on, Frames now) noexcept {
    item(tables_.bus_levels, bus).muted = on;
    relevel({Which::Kind::bus, static_cast<std::uint64_t>(bus)}, 0, now);
}

int Plays::pause(Which which, Pauser by, bool on, Frames now) noexcept {
    int changed = 0;
    for_each(which, [&](int index) {
        const std::uint8_t had = item(plays_, index).pauses;
        const auto has = static_cast<std::uint8_t>(on ? had | by : had & ~by);
        if (had == has) return;
        ++changed;
        set_paused(index, has, now);
    });
    return changed;
}

/// It goes on from where it stood still.
void Plays::thaw(Play& play, Frames now) noexcept {
    if (!play.frozen) return;
    play.frozen = false;
    play.skipped += now - play.frozen_at;
}

void Plays::set_paused(int index, std::uint8_t pauses, Frames now) noexcept {
    Play& play = item(plays_, index);
    const bool was = play.pauses != 0, is = pauses != 0;
    looping_ -= for_ever(play) ? 1 : 0;
    play.pauses = pauses;
    looping_ += for_ever(play) ? 1 : 0;
    if (was == is) return;
    if (!is) thaw(play, now);
    play.envelope.move_to(level_of(play), now - play.skipped);
    tell(play, now);
}

/// What its handle may be asked.
void Plays::tell(const Play& play, Frames now) noexcept {
    const PlayState state = play.pauses != 0 ? PlayState::paused
                            : play.counted   ? PlayState::playing
                                             : PlayState::fading;
    handles_.tell(play.handle, state, play.begun + play.skipped, now);
}

bool Plays::is_awaited(const Play& play) const noexcept {
    if (play.replaced) return false;
    return play.branch >= 0 || plan_->at(play.sound).awaited;
}

int Plays::find(Handles::Handle handle) const noexcept {
    if (handle.slot >= play_of_slot_.size()) return none;
    const int index = play_of_slot_[handle.slot];
    return index != none && item(plays_, index).handle.generation == handle.generation ? index : none;
}

void Plays::stop_play(Handles::Handle handle, double seconds, std::uint64_t by, Frames now) noexcept {
    if (asked(handle)) return handles_.end(handle, EndReason::stopped, now); // it will not begin
    const int index = find(handle);
    if (index == none) return;
    if (seconds < 0)
        end_in_its_way(index, now, by);
    else
        end_early(index, now, static_cast<Frames>(seconds * rate_), EndReason::stopped, by);
}

void Plays::pause_play(Handles::Handle handle, bool on, Frames now) noexcept {
    const int index = find(handle);
    if (index == none) return;
    const std::uint8_t had = item(plays_, index).pauses;
    set_paused(index, static_cast<std::uint8_t>(on ? had | by_action : had & ~by_action), now);
}

void Plays::set_gain(Handles::Handle handle, double decibels, Frames now) noexcept {
    const int index = find(handle);
    if (index == none) return;
    Play& play = item(plays_, index);
    play.gain = static_cast<float>(dsp::db_to_gain(decibels));
    play.envelope.move_to(level_of(play), (play.frozen ? play.frozen_at : now) - play.skipped);
}

int Plays::set_own(Handles::Handle handle, model::NameId name, double value) noexcept {
    const int index = find(handle);
    if (index == none) return none; // it has ended: nothing is wrong
    return set_own(index, name, value);
}

int Plays::set_own(int index, model::NameId name, double value) noexcept {
    const int sound = item(plays_, index).sound;
    const auto& names = plan_->at(sound).own_names;
    const auto at = std::find(names.begin(), names.end(), name);
    if (at == names.end()) return sound;
    tables_.own[static_cast<std::size_t>(index) * plan_->most_own() + static_cast<std::size_t>(at - names.begin())] =
        value;
    return none;
}

void Plays::count_from(int sound, std::uint64_t accepted, std::span<const std::uint64_t> heard) noexcept {
    SoundState& state = item(tables_.sounds, sound);
    state.accepted = accepted;
    for (std::size_t l = 0; l < std::min(heard.size(), state.heard.size()); ++l) {
        state.heard[l] = heard[l];
        state.picks[l].pass({seed_, plan_->at(sound).hash, heard[l], static_cast<std::uint32_t>(l)});
    }
}

} // namespace kiai::mixer
