#include "core/mixer/play_control.h"

#include "core/dsp/math.h"

#include <algorithm>

namespace kiai::mixer {

int PlayControl::stop(Which which, double seconds, FadeCurve curve, std::uint64_t by, Frames now) noexcept {
    int ended = 0;
    table_.for_each(which, [&](int index) {
        const bool ends = seconds < 0 ? endings_.end_in_its_way(index, now, by)
                                      : endings_.end_early(index, now, static_cast<Frames>(seconds * table_.rate),
                                                           EndReason::stopped, by, curve);
        ended += ends ? 1 : 0;
    });
    return ended;
}

int PlayControl::leave(int scope, double seconds, std::uint64_t by, Frames now) noexcept {
    int ended = 0;
    table_.for_each({Which::Kind::scope, static_cast<std::uint64_t>(scope)}, [&](int index) {
        const ActivePlay& play = item(table_.plays, index);
        if (table_.plan->at(play.sound).sound->outlives && play.holder == 0) return; // what held it has ended
        if (endings_.end_early(index, now, static_cast<Frames>(seconds * table_.rate), EndReason::scope_left, by))
            ++ended;
    });
    return ended;
}

void PlayControl::stop_loops(double seconds, std::uint64_t by, Frames now) noexcept {
    table_.for_each({}, [&](int index) {
        if (item(table_.plays, index).for_ever())
            endings_.end_early(index, now, static_cast<Frames>(seconds * table_.rate), EndReason::stopped, by);
    });
}

bool PlayControl::sounds(int sound) const noexcept {
    return item(table_.tables.sounds, sound).counted > 0;
}

std::optional<Belonging> PlayControl::newest(int sound, int within) noexcept {
    std::optional<Belonging> found;
    table_.for_each({Which::Kind::sound, static_cast<std::uint64_t>(sound), within}, [&](int index) {
        const ActivePlay& play = item(table_.plays, index);
        if (play.counted) found = {play.own_bus ? -1 : play.bus, play.scope};
    });
    return found;
}

void PlayControl::relevel(Which which, double seconds, Frames now) noexcept {
    table_.for_each(which, [&](int index) {
        ActivePlay& play = item(table_.plays, index);
        play.envelope.move_to(table_.level_of(play), (play.frozen ? play.frozen_at : now) - play.skipped,
                              static_cast<Frames>(seconds * table_.rate));
    });
}

void PlayControl::set_sound_gain(int sound, double decibels, double seconds, Frames now) noexcept {
    item(table_.tables.sounds, sound).level.gain = static_cast<float>(dsp::db_to_gain(decibels));
    relevel({Which::Kind::sound, static_cast<std::uint64_t>(sound)}, seconds, now);
}

void PlayControl::set_bus_gain(int bus, double decibels, double seconds, Frames now) noexcept {
    table_.tables.gains.set_gain(bus, static_cast<float>(dsp::db_to_gain(decibels)),
                                 static_cast<Frames>(seconds * table_.rate), now);
}

void PlayControl::mute_sound(int sound, bool on, Frames now) noexcept {
    item(table_.tables.sounds, sound).level.muted = on;
    relevel({Which::Kind::sound, static_cast<std::uint64_t>(sound)}, 0, now);
}

void PlayControl::mute_bus(int bus, bool on, Frames now) noexcept {
    table_.tables.gains.mute(bus, on, now);
    table_.tables.ducks.stir();
}

int PlayControl::pause(Which which, Pauser by, bool on, Frames now) noexcept {
    int changed = 0;
    table_.for_each(which, [&](int index) {
        const ActivePlay& play = item(table_.plays, index);
        const std::uint8_t had = play.pauses;
        const auto has = static_cast<std::uint8_t>(on ? had | by : had & ~by);
        if (had == has || (on && play.envelope.fades_in_silence())) return; // that would only hold up its end
        ++changed;
        set_paused(index, has, now);
    });
    return changed;
}

void PlayControl::set_paused(int index, std::uint8_t pauses, Frames now) noexcept {
    ActivePlay& play = item(table_.plays, index);
    const bool was = play.pauses != 0, is = pauses != 0;
    table_.looping -= play.for_ever() ? 1 : 0;
    play.pauses = pauses;
    table_.looping += play.for_ever() ? 1 : 0;
    if (was == is) return;
    table_.count_for_ducks(play, now);
    if (!is) table_.thaw(play, now);
    play.envelope.move_to(table_.level_of(play), now - play.skipped);
    table_.tell(play, now);
}

/// Writes a call on a play to the journal.
void PlayControl::say(const ActivePlay& told, decisions::Record record, Outcome outcome, Frames now) noexcept {
    record.frame = now;
    record.play = told.id;
    record.sound = told.sound;
    record.count = outcome == Outcome::stopped ? 1 : 0;
    record.outcome = outcome;
    table_.journal.write(record);
}

/// The same for what an app may move in every frame: calls within a quarter of a second of each other are one movement,
/// which is written once.
void PlayControl::say_moved(ActivePlay& play, const decisions::Record& record, Frames now) noexcept {
    const auto kind = static_cast<std::uint8_t>(1u << (static_cast<unsigned>(record.trigger) % 8));
    if (now - play.moved_at >= table_.rate / 4) play.said = 0;
    play.moved_at = now;
    if ((play.said & kind) != 0) return;
    play.said |= kind;
    say(play, record, Outcome::done, now);
}

void PlayControl::stop_play(Handles::Handle handle, double seconds, FadeCurve curve, const decisions::Record& cause,
                            Frames now) noexcept {
    if (table_.handles.state(handle) == PlayState::asked) { // it will not begin
        decisions::Record record = cause;
        record.frame = now;
        record.outcome = Outcome::stopped;
        record.sound = table_.plan->sound_of(table_.handles.name(handle));
        table_.journal.write(record);
        return table_.handles.end(handle, EndReason::stopped, now);
    }
    const int index = table_.find(handle);
    if (index == no_play) return;
    const bool ends = seconds < 0 ? endings_.end_in_its_way(index, now, cause.cause)
                                  : endings_.end_early(index, now, static_cast<Frames>(seconds * table_.rate),
                                                       EndReason::stopped, cause.cause, curve);
    if (ends) say(item(table_.plays, index), cause, Outcome::stopped, now);
}

void PlayControl::pause_play(Handles::Handle handle, bool on, const decisions::Record& cause, Frames now) noexcept {
    const int index = table_.find(handle);
    if (index == no_play) return;
    const ActivePlay& play = item(table_.plays, index);
    const std::uint8_t had = play.pauses;
    const auto has = static_cast<std::uint8_t>(on ? had | by_action : had & ~by_action);
    if (had == has || (on && play.envelope.fades_in_silence())) return;
    set_paused(index, has, now);
    say(item(table_.plays, index), cause, Outcome::done, now);
}

void PlayControl::slide(Handles::Handle handle, Slide ActivePlay::*what, double to, double seconds,
                        const decisions::Record& cause, Frames now) noexcept {
    const int index = table_.find(handle);
    if (index == no_play) return;
    ActivePlay& play = item(table_.plays, index);
    const Frames own = (play.frozen ? play.frozen_at : now) - play.skipped;
    // A call before the first block of a play applies from its first frame.
    (play.*what).move(to, own, play.unheard(now) ? 0 : static_cast<Frames>(seconds * table_.rate));
    table_.make_movable(index, what == &ActivePlay::pitch, play.unheard(now));
    say_moved(play, cause, now);
}

void PlayControl::set_gain(Handles::Handle handle, double decibels, double seconds, const decisions::Record& cause,
                           Frames now) noexcept {
    const int index = table_.find(handle);
    if (index == no_play) return;
    ActivePlay& play = item(table_.plays, index);
    play.gain = static_cast<float>(dsp::db_to_gain(decibels));
    play.envelope.move_to(table_.level_of(play), (play.frozen ? play.frozen_at : now) - play.skipped,
                          static_cast<Frames>(seconds * table_.rate));
    say_moved(play, cause, now);
}

void PlayControl::seek(Handles::Handle handle, double seconds, const decisions::Record& cause, Frames now) noexcept {
    const int index = table_.find(handle);
    if (index == no_play) return;
    seeks_.ask(index, seconds, now);
    say(item(table_.plays, index), cause, Outcome::done, now);
}

void PlayControl::set_own(Handles::Handle handle, model::NameId name, double value, const decisions::Record& cause,
                          Frames now) noexcept {
    const int index = table_.find(handle);
    if (index == no_play) return; // it has ended: nothing is wrong
    ActivePlay& play = item(table_.plays, index);
    if (table_.set_value(index, name, value))
        say_moved(play, cause, now);
    else
        say(play, cause, Outcome::unknown_value, now);
}

void PlayControl::count_from(int sound, std::uint64_t accepted, std::span<const std::uint64_t> heard) noexcept {
    SoundState& state = item(table_.tables.sounds, sound);
    state.accepted = accepted;
    for (std::size_t l = 0; l < std::min(heard.size(), state.heard.size()); ++l) {
        state.heard[l] = heard[l];
        state.picks[l].pass({table_.seed, table_.plan->at(sound).hash, heard[l], static_cast<std::uint32_t>(l)});
    }
}

} // namespace kiai::mixer
