#include "core/mixer/play_swap.h"

#include <algorithm>
#include <utility>

namespace kiai::mixer {

void PlaySwap::change(const Change& change, PlayTables& next, const decisions::Record& cause, Frames now) noexcept {
    go_on_with(change, next, now);
    std::swap(table_.tables, next);
    table_.plan = &change.after;
    const std::size_t sounding = table_.order.size(); // what restarts comes after them
    for (std::size_t v = 0; v < sounding; ++v) go_on(table_.order[v], change, next, now);
    for (int i = table_.line.oldest; i != no_play; i = item(table_.plays, i).of_all.newer) {
        ActivePlay& play = item(table_.plays, i);
        const int kept = play.own_bus ? -1 : Change::now(change.buses, play.bus);
        play.own_bus = kept < 0;
        play.bus = static_cast<std::int16_t>(play.own_bus ? table_.plan->at(play.sound).sound->bus : kept);
        table_.board.set_bus(static_cast<std::size_t>(i), play.bus);
    }
    count_again();                                            // by what is looked for from now on
    for (std::size_t v = 0, end = 0; v < sounding; v = end) { // the voices of a play are contiguous
        const int index = item(table_.voices, table_.order[v]).play;
        while (end < sounding && item(table_.voices, table_.order[end]).play == index) ++end;
        ActivePlay& play = item(table_.plays, index);
        play.cause.binding = Change::now(change.bindings, play.cause.binding - 1) + 1;
        play.cause.action = Change::now(change.actions, play.cause.action);
        const auto became =
            play.sound < static_cast<int>(change.sounds.size()) ? item(change.sounds, play.sound) : Change::Of::nothing;
        if (play.route != play.bus) { // the step from one bus to the other is silent
            play.rerouting = true;
            play.envelope.move_to(0, (play.frozen ? play.frozen_at : now) - play.skipped);
        }
        if (!play.counted) continue; // it is ending
        if (became == Change::Of::restarts && play.pauses == 0) begin_anew(index, cause, now);
        if (became == Change::Of::gone)
            endings_.end_early(index, now, static_cast<Frames>(change_seconds * table_.rate), EndReason::changed,
                               cause.cause);
    }
    end_surplus(cause, now);
}

/// Carries over what is kept by names: settings, counts and random choices.
void PlaySwap::go_on_with(const Change& change, PlayTables& next, Frames now) noexcept {
    for (int s = 0; s < static_cast<int>(table_.tables.sounds.size()); ++s) {
        const SoundState& was = item(table_.tables.sounds, s);
        SoundState& is = item(next.sounds, s);
        is.level = was.level;
        is.accepted = was.accepted;
        is.last_start = was.last_start;
        is.line = was.line;
        is.counted = was.counted;
        const auto &layers = change.before.at(s).sound->layers, &layers_now = change.after.at(s).sound->layers;
        for (std::size_t l = 0; l < std::min(was.picks.size(), is.picks.size()); ++l) {
            const auto &takes = layers[l].takes, &takes_now = layers_now[l].takes;
            is.heard[l] = was.heard[l];
            is.picks[l].go_on_from(was.picks[l], was.heard[l], [&](int take) {
                const int clip = Change::now(change.clips, item(takes, take));
                const auto at = std::find(takes_now.begin(), takes_now.end(), clip);
                return at == takes_now.end() ? -1 : static_cast<int>(at - takes_now.begin());
            });
        }
    }
    for (std::size_t d = 0; d < table_.tables.dials.size(); ++d) {
        const model::Dial& dial = change.after.project().dials[d];
        if (!dial.gone) next.dials[d] = std::clamp(table_.tables.dials[d], dial.low, dial.high);
    }
    const auto length = static_cast<Frames>(change_seconds * table_.rate);
    next.gains.go_on_from(table_.tables.gains, length, now);
    next.ducks.go_on_from(table_.tables.ducks, next.gains, length, now);
    next.buses.go_on_from(table_.tables.buses, now);
    for (std::size_t b = 0; b < table_.tables.last_on_bus.size(); ++b)
        next.last_on_bus[b] = table_.tables.last_on_bus[b];
    const auto &buses = change.before.project().buses, &buses_now = change.after.project().buses;
    for (std::size_t b = buses.size(); b < buses_now.size(); ++b) // it may go into another bus than before
        for (std::size_t old = 0; old < buses.size(); ++old)
            if (buses[old].name == buses_now[b].name && !buses[old].gone)
                next.gains.adopt(static_cast<int>(b), table_.tables.gains, static_cast<int>(old));
    for (std::size_t p = 0; p < table_.plays.size(); ++p) { // values of plays are kept in the order of their sound's
        if (table_.plays[p].sound == no_play) continue;
        const auto &names = change.before.at(table_.plays[p].sound).own_names,
                   &names_now = change.after.at(table_.plays[p].sound).own_names;
        for (std::size_t v = 0; v < names.size(); ++v)
            if (const auto at = std::find(names_now.begin(), names_now.end(), names[v]); at != names_now.end())
                next.own[p * change.after.most_own() + static_cast<std::size_t>(at - names_now.begin())] =
                    table_.tables.own[p * change.before.most_own() + v];
    }
}

/// Keeps a voice as it is if its layer was removed or replaced.
void PlaySwap::hold_still(int slot) noexcept {
    VoiceStory& story = item(table_.stories, slot);
    story.held = true;
    story.drawn.mixed = story.moved.last;
    story.moved.bends = story.moved.bends || story.planned->bends;
    story.moved.changed_at = -1;
    story.planned = &no_layer_;
}

/// Continues a voice with its layer in the new project. `was`: the old tables.
void PlaySwap::go_on(int slot, const Change& change, const PlayTables& was, Frames now) noexcept {
    ActiveVoice& active = item(table_.voices, slot);
    VoiceStory& story = item(table_.stories, slot);
    const ActivePlay& play = item(table_.plays, active.play);
    const PlannedSound& planned = table_.plan->at(play.sound);
    const Change::Of became = item(change.sounds, play.sound);
    story.drawn.clip = Change::now(change.clips, story.drawn.clip);
    if (active.toned) item(table_.tables.tones, slot) = item(was.tones, slot);
    if (story.held || story.drawn.clip < 0 || active.layer >= planned.layers.size() || became == Change::Of::gone ||
        became == Change::Of::restarts)
        return hold_still(slot);
    const PlannedLayer& layer = planned.layers[active.layer];
    if (became == Change::Of::nothing) {
        const auto of = [slot](std::size_t most) {
            return static_cast<std::ptrdiff_t>(static_cast<std::size_t>(slot) * most);
        };
        std::copy_n(was.smoothed.begin() + of(change.before.most_movers()), layer.movers.size(),
                    table_.tables.smoothed.begin() + of(change.after.most_movers()));
        story.planned = &layer;
        return;
    }
    if (layer.toned && !active.toned) item(table_.tables.tones, slot).start({}, table_.rate);
    active.toned = active.toned || layer.toned;
    Moved& moved = story.moved;
    moved.from = moved.last;
    moved.from_share = moved.last_share;
    moved.changed_at = now;
    moved.restarted = true;
    story.drawn.mixed =
        mix_of(planned, item(table_.plan->project().clips, story.drawn.clip), play.options, story.drawn.draw);
    moved.bends = moved.bends || story.planned->bends || story.drawn.mixed.pitch != moved.last.pitch;
    story.planned = &layer;
    if (active.moves) return;
    active.moves = true; // from now on its gains come cell by cell
    active.voice.shape_only();
    moved.begun = true;
}

/// Ends the play and starts another for it. The app's handle, holder and callback go to the new play.
void PlaySwap::begin_anew(int index, const decisions::Record& cause, Frames now) noexcept {
    ActivePlay& old = item(table_.plays, index);
    const auto& layers = table_.plan->at(old.sound).sound->layers;
    const auto streams = std::count_if(layers.begin(), layers.end(), [&](const model::Layer& layer) {
        return std::any_of(layer.takes.begin(), layer.takes.end(),
                           [&](int take) { return item(table_.plan->project().clips, take).streamed(); });
    });
    // If there is no room for both, the old play continues.
    if (table_.free_plays.empty() || table_.free_voices.size() < layers.size() || table_.streams.free() < streams)
        return;
    const auto crossfade = static_cast<Frames>(change_seconds * table_.rate);
    Wanted wanted{old.sound,
                  old.options,
                  old.handle,
                  old.cause,
                  {},
                  old.scope,
                  old.holder,
                  old.run,
                  old.branch,
                  0,
                  old.own_bus ? -1 : old.bus};
    wanted.cause.from = old.cause.cause;
    wanted.cause.cause = cause.cause;
    if (old.lasts > 0) wanted.lasts = std::max<Frames>(1, old.lasts - (now - old.skipped));
    table_.awaited -= table_.is_awaited(old) ? 1 : 0;
    old.replaced = true;
    old.handle = {};
    const std::size_t own = table_.plan->most_own();
    starts_.draw(wanted);
    const int fresh = starts_.begin(wanted, now);
    const auto row = [&](int play) {
        return table_.tables.own.begin() + static_cast<std::ptrdiff_t>(static_cast<std::size_t>(play) * own);
    };
    std::copy_n(row(index), own, row(fresh));
    ActivePlay& play = item(table_.plays, fresh);
    play.gain = old.gain;
    play.pitch = old.pitch;
    play.pan = old.pan;
    if (old.pitch.to != 0 || old.pan.to != 0) table_.make_movable(fresh, old.pitch.to != 0, true);
    play.envelope.start(table_.rate, table_.level_of(play));
    starts_.rise_over(fresh, crossfade);
    endings_.end_early(index, now, crossfade, EndReason::changed, cause.cause);
}

/// If a limit was lowered, steals the oldest plays of the lowest priority. A limit that refuses lets all of them end by
/// themselves.
void PlaySwap::end_surplus(const decisions::Record& cause, Frames now) noexcept {
    const auto end_some = [&](const model::Limit& limit, std::int16_t number, int sound, const int& count) {
        while (limit.plays > 0 && limit.full != model::Full::refuse && count > limit.plays) {
            int found = no_play;
            const auto priority = [&](int play) {
                return table_.plan->at(item(table_.plays, play).sound).sound->priority;
            };
            for (int i = table_.line.oldest; i != no_play; i = item(table_.plays, i).of_all.newer)
                if (item(table_.plays, i).counted && limits_.in(i, number, sound) &&
                    (found == no_play || priority(i) < priority(found)))
                    found = i;
            if (found == no_play) return;
            decisions::Record record = cause;
            record.frame = now;
            record.outcome = Outcome::stolen;
            record.sound = item(table_.plays, found).sound;
            record.play = item(table_.plays, found).id;
            record.rule = limit.full;
            limits_.note_limit(record, number, item(table_.plays, found).sound, now);
            table_.journal.write(record);
            endings_.end_early(found, now, static_cast<Frames>(change_seconds * table_.rate / 4), EndReason::stolen,
                               cause.cause);
        }
    };
    for (int s = 0; s < static_cast<int>(table_.plan->sounds().size()); ++s)
        end_some(table_.plan->at(s).sound->limit, 0, s, item(table_.tables.sounds, s).counted);
    const auto& buses = table_.plan->project().buses;
    for (int b = 0; b < static_cast<int>(buses.size()); ++b)
        end_some(item(buses, b).limit, static_cast<std::int16_t>(b + 1), no_play, item(table_.tables.on_bus, b));
}

void PlaySwap::count_again() noexcept {
    std::fill(table_.tables.on_bus.begin(), table_.tables.on_bus.end(), 0);
    for (int i = table_.line.oldest; i != no_play; i = item(table_.plays, i).of_all.newer) {
        ActivePlay& play = item(table_.plays, i);
        for (const int bus : table_.buses_of(play)) item(table_.tables.on_bus, bus) += play.counted ? 1 : 0;
        if (play.ducks) table_.tables.ducks.add(table_.buses_of(play));
    }
    table_.awaited = 0;
    for (std::size_t v = 0; v < table_.order.size(); ++v) {
        const int play = item(table_.voices, table_.order[v]).play;
        const bool first = v == 0 || item(table_.voices, table_.order[v - 1]).play != play;
        if (first && table_.is_awaited(item(table_.plays, play))) ++table_.awaited;
    }
}

} // namespace kiai::mixer
