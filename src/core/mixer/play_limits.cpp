#include "core/mixer/play_limits.h"

#include <algorithm>
#include <optional>

namespace kiai::mixer {

PlayLimits::PlayLimits(PlayTable& table, Starts& starts, Endings& endings)
    : table_(table), starts_(starts), endings_(endings) {
    victims_.reserve(table.plays.size());
}

int PlayLimits::bus_of(const Wanted& wanted) const noexcept {
    return wanted.bus >= 0 ? wanted.bus : table_.plan->at(wanted.sound).sound->bus;
}

bool PlayLimits::admits(const Wanted& wanted, Frames now) noexcept {
    victims_.clear();
    const int gap = gap_that_refuses(wanted, now);
    if (gap == no_gap) starts_.draw(wanted);
    return !refused(wanted, gap, now);
}

/// Returns the gap that refuses the play: `gap_of_sound`, that of a bus, or `no_gap`. Among contacts at one frame the
/// strongest is heard, so a weaker one is stolen.
int PlayLimits::gap_that_refuses(const Wanted& wanted, Frames now) noexcept {
    const auto too_soon = [&](Frames last, Frames gap, std::int16_t limit) {
        if (last < 0 || now - last >= gap) return false;
        if (last != now) return true;
        const bool gone = std::any_of(victims_.begin(), victims_.end(),
                                      [&](const Victim& victim) { return in(victim.play, limit, wanted.sound); });
        if (gone) return false;
        const int weaker = weaker_contact(wanted, limit, now);
        if (weaker == no_play) return true;
        item(table_.plays, weaker).chosen = true;
        victims_.push_back({weaker, decisions::Record::gap, model::Full::stronger_contact});
        return false;
    };
    if (too_soon(item(table_.tables.sounds, wanted.sound).last_start, table_.plan->at(wanted.sound).gap, 0))
        return gap_of_sound;
    for (const int bus : table_.plan->path(bus_of(wanted)))
        if (too_soon(item(table_.tables.last_on_bus, bus), item(table_.plan->buses().all, bus).gap,
                     static_cast<std::int16_t>(bus + 1)))
            return bus;
    return no_gap;
}

bool PlayLimits::make_way(const Wanted& wanted, Frames now) noexcept {
    bool young = false;
    for (const Victim& victim : victims_) {
        ActivePlay& gone = item(table_.plays, victim.play);
        decisions::Record record = wanted.cause;
        record.frame = now;
        record.outcome = Outcome::stolen;
        record.sound = gone.sound;
        record.play = gone.id;
        record.other = table_.next_id;
        record.rule = victim.rule;
        note_limit(record, victim.limit, wanted.sound, now);
        table_.journal.write(record);
        gone.chosen = false;
        young = endings_.steal(victim.play, now, wanted.cause.cause) || young;
    }
    return young;
}

/// Returns true if a play counts for a limit: that of `sound`, of a bus, or of the engine.
bool PlayLimits::in(int index, std::int16_t limit, int sound) const noexcept {
    const ActivePlay& play = item(table_.plays, index);
    if (limit == decisions::Record::engine) return true;
    if (limit == 0) return play.sound == sound;
    const auto& buses = table_.buses_of(play);
    return std::find(buses.begin(), buses.end(), limit - 1) != buses.end();
}

/// Returns the present level of a play, by plain arithmetic: no decision depends on what the kernels computed.
double PlayLimits::expected(int slot) const noexcept {
    const ActiveVoice& active = item(table_.voices, slot);
    const Sides& moved = item(table_.stories, slot).moved.cells[2];
    const double gain = active.moves ? std::max(moved.left, moved.right) : active.voice.loudest_gain();
    const ActivePlay& play = item(table_.plays, active.play);
    return gain * play.envelope.level() * table_.tables.gains.level(play.route) * active.voice.envelope();
}

double PlayLimits::expected_of_drawn(const Wanted& wanted) const noexcept {
    const PlannedSound& planned = table_.plan->at(wanted.sound);
    double most = 0;
    for (std::size_t l = 0; l < planned.layers.size(); ++l) {
        const DrawnLayer& drawn = table_.tables.drawn[l];
        if (!drawn.heard) continue;
        const PlannedTake& take = planned.layers[l].take(drawn.take, wanted.options);
        const Sides sides =
            sides_of(drawn.mixed, drawn.mixed.share(static_cast<std::uint32_t>(l), planned.layers.size()),
                     take.audio->channels == 1);
        most = std::max(most,
                        std::max(sides.left, sides.right) *
                            Voice::envelope_at(*take.audio, take.lap, turns_of(take.lap, wanted.options), drawn.from));
    }
    return most * table_.tables.gains.level(bus_of(wanted));
}

/// Returns true if a contact started the play at this very frame, so that it competes with others by strength.
bool PlayLimits::contact_now(const ActivePlay& play, Frames now) const noexcept {
    return play.cause.trigger == ReportKind::contact && play.begun == now && play.unheard(now);
}

/// Returns the weakest of the plays that count for a limit and that weaker contacts started at this very frame; no_play
/// if the new play is no contact or weaker than all of them.
int PlayLimits::weaker_contact(const Wanted& wanted, std::int16_t limit, Frames now) const noexcept {
    if (wanted.cause.trigger != ReportKind::contact) return no_play;
    const int priority = table_.plan->at(wanted.sound).sound->priority;
    float weakest = wanted.options.strength;
    int found = no_play;
    for (int i = table_.line.newest; i != no_play && item(table_.plays, i).begun == now;
         i = item(table_.plays, i).of_all.older) {
        const ActivePlay& play = item(table_.plays, i);
        if (!play.counted || play.chosen || !in(i, limit, wanted.sound) || !contact_now(play, now)) continue;
        if (table_.plan->at(play.sound).sound->priority > priority || play.options.strength >= weakest) continue;
        weakest = play.options.strength, found = i;
    }
    return found;
}

/// Among the plays that count for a limit, chooses those of the lowest priority, and of those the oldest or the
/// quietest. Returns no_play if all have a higher priority than the new play, or if the new play is the quietest. Among
/// contacts of one frame the weakest goes first, and a weaker one never ends a stronger one.
int PlayLimits::pick_victim(const Wanted& wanted, model::Full rule, std::int16_t limit, Frames now,
                            bool streams) const noexcept {
    const int priority = table_.plan->at(wanted.sound).sound->priority;
    const bool quietest = rule == model::Full::end_quietest, contact = wanted.cause.trigger == ReportKind::contact;
    int lowest = priority, found = no_play;
    const auto link =
        limit != 0 ? &ActivePlay::of_all : &ActivePlay::of_sound; // of one sound only its own are looked at
    const PlayLine& line = limit == 0 ? item(table_.tables.sounds, wanted.sound).line : table_.line;
    for (int i = line.oldest; i != no_play; i = (item(table_.plays, i).*link).newer) {
        const ActivePlay& play = item(table_.plays, i);
        if (!play.counted || play.chosen || !in(i, limit, wanted.sound) || (streams && play.counted_streams == 0))
            continue;
        const bool rival = contact && contact_now(play, now);
        if (rival && !quietest && play.options.strength > wanted.options.strength) {
            if (rule == model::Full::restart) return no_play;
            continue;
        }
        const int own = table_.plan->at(play.sound).sound->priority;
        const bool weaker = found != no_play && own == lowest && rival && contact_now(item(table_.plays, found), now) &&
                            play.options.strength < item(table_.plays, found).options.strength;
        if (own < lowest || (own == lowest && found == no_play) || weaker) lowest = own, found = i;
    }
    if (!quietest || found == no_play) return found;
    double least = priority == lowest ? expected_of_drawn(wanted) : 1e30;
    found = no_play;
    // The voices of a play are contiguous.
    for (std::size_t begin = 0, end = 0; begin < table_.order.size(); begin = end) {
        const int play = item(table_.voices, table_.order[begin]).play;
        double level = 0;
        for (; end < table_.order.size() && item(table_.voices, table_.order[end]).play == play; ++end)
            level = std::max(level, expected(table_.order[end]));
        const ActivePlay& one = item(table_.plays, play);
        if (!one.counted || one.chosen || !in(play, limit, wanted.sound) || (streams && one.counted_streams == 0) ||
            table_.plan->at(one.sound).sound->priority != lowest)
            continue;
        if (level < least || (level == least && found == no_play)) least = level, found = play;
    }
    return found;
}

/// Notes which limit decides, its measured value and its maximum.
void PlayLimits::note_limit(decisions::Record& record, std::int16_t limit, int sound, Frames now) const noexcept {
    record.limit = limit;
    const SoundState& state = item(table_.tables.sounds, sound);
    if (limit == decisions::Record::gap) {
        record.length = now - state.last_start;
        record.counted = table_.plan->at(sound).gap;
    } else if (limit != decisions::Record::engine) {
        record.length = limit == 0 ? state.counted : item(table_.tables.on_bus, limit - 1);
        record.counted = limit == 0 ? table_.plan->at(sound).sound->limit.plays
                                    : item(table_.plan->project().buses, limit - 1).limit.plays;
    }
}

bool PlayLimits::make_room(const Wanted& wanted, const model::Limit& limit, std::int16_t number,
                           decisions::Record& record, Frames now) noexcept {
    if (limit.plays == 0) return true;
    const int counted =
        number == 0 ? item(table_.tables.sounds, wanted.sound).counted : item(table_.tables.on_bus, number - 1);
    auto over = counted + 1 - limit.plays - std::count_if(victims_.begin(), victims_.end(), [&](const Victim& victim) {
                    return in(victim.play, number, wanted.sound);
                });
    if (over <= 0) return true;
    record.rule = limit.full;
    note_limit(record, number, wanted.sound, now);
    const bool all = limit.full == model::Full::restart;
    for (; over > 0 || all; --over) {
        const int victim = limit.full == model::Full::refuse ? weaker_contact(wanted, number, now)
                                                             : pick_victim(wanted, limit.full, number, now);
        if (victim == no_play) break;
        const bool by_strength = limit.full == model::Full::refuse || (limit.full == model::Full::end_oldest &&
                                                                       wanted.cause.trigger == ReportKind::contact &&
                                                                       contact_now(item(table_.plays, victim), now));
        item(table_.plays, victim).chosen = true;
        victims_.push_back({victim, number, by_strength ? model::Full::stronger_contact : limit.full});
    }
    return over <= 0;
}

/// If more voices or streams are needed than exist, steals the least audible plays. Returns false if they do not
/// suffice.
bool PlayLimits::make_voices_free(const Wanted& wanted, int voices, int streams, Frames now) noexcept {
    int counted = table_.counted_voices + voices, streamed = table_.counted_streams + streams;
    for (const Victim& victim : victims_) { // those that are stolen stop counting before this one counts
        counted -= item(table_.plays, victim.play).counted_voices;
        streamed -= item(table_.plays, victim.play).counted_streams;
    }
    while (counted > table_.most_voices || (streams > 0 && streamed > table_.streams.most())) {
        const bool of_streams = counted <= table_.most_voices;
        const int victim = pick_victim(wanted, model::Full::end_quietest, decisions::Record::engine, now, of_streams);
        if (victim == no_play) return false;
        item(table_.plays, victim).chosen = true;
        victims_.push_back({victim, decisions::Record::engine, model::Full::end_quietest});
        counted -= item(table_.plays, victim).counted_voices;
        streamed -= item(table_.plays, victim).counted_streams;
    }
    return true;
}

bool PlayLimits::refused(const Wanted& wanted, int gap, Frames now) noexcept {
    const PlannedSound& planned = table_.plan->at(wanted.sound);
    decisions::Record record = wanted.cause;
    record.frame = now;
    record.sound = wanted.sound;
    const auto decide = [&]() -> std::optional<Outcome> {
        if (gap != no_gap) {
            note_limit(record, decisions::Record::gap, wanted.sound, now);
            if (gap >= 0) {
                record.length = now - item(table_.tables.last_on_bus, gap);
                record.counted = item(table_.plan->buses().all, gap).gap;
                record.other = static_cast<std::uint32_t>(gap + 1);
            }
            record.rule = model::Full::refuse;
            return Outcome::refused_gap;
        }
        if (!make_room(wanted, planned.sound->limit, 0, record, now)) return Outcome::refused_limit;
        for (const int bus : table_.plan->path(bus_of(wanted)))
            if (!make_room(wanted, item(table_.plan->project().buses, bus).limit, static_cast<std::int16_t>(bus + 1),
                           record, now))
                return Outcome::refused_limit;
        const auto voices = static_cast<int>(
            std::count_if(table_.tables.drawn.begin(),
                          table_.tables.drawn.begin() + static_cast<std::ptrdiff_t>(planned.layers.size()),
                          [](const DrawnLayer& drawn) { return drawn.heard; }));
        const auto streams =
            std::count_if(table_.tables.drawn.begin(),
                          table_.tables.drawn.begin() + static_cast<std::ptrdiff_t>(planned.layers.size()),
                          [&](const DrawnLayer& drawn) {
                              return drawn.heard && item(table_.plan->project().clips, drawn.clip).streamed();
                          });
        if (static_cast<int>(table_.free_voices.size()) < voices || table_.free_plays.empty() ||
            !make_voices_free(wanted, voices, static_cast<int>(streams), now) ||
            (streams > 0 && table_.streams.free() < streams))
            return Outcome::refused_full;
        return std::nullopt;
    };
    const std::optional<Outcome> why = decide();
    if (!why) return false;
    for (const Victim& victim : victims_) item(table_.plays, victim.play).chosen = false;
    record.outcome = *why;
    table_.journal.write(record);
    return true;
}

} // namespace kiai::mixer
