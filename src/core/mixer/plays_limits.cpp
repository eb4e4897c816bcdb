// Who may begin, and which play is stolen for it: gap, the sound's own limit, each bus upwards, the engine's voices.
// All of it is decided before anything is carried out.
#include "core/dsp/math.h"
#include "core/mixer/items.h"
#include "core/mixer/plays.h"

#include <algorithm>

namespace kiai::mixer {

/// Whether a play counts for a limit: that of `sound`, of a bus, or of the engine.
bool Plays::in(int index, std::int16_t limit, int sound) const noexcept {
    const Play& play = item(plays_, index);
    if (limit == decisions::Record::engine) return true;
    if (limit == 0) return play.sound == sound;
    const auto& buses = plan_->at(play.sound).buses;
    return std::find(buses.begin(), buses.end(), limit - 1) != buses.end();
}

/// How loud a play is just now, by plain arithmetic: what the kernels computed decides nothing.
double Plays::expected(int slot) const noexcept {
    const ActiveVoice& active = item(voices_, slot);
    const Sides& moved = item(stories_, slot).moved.cells[2];
    const double gain = active.moves ? std::max(moved.left, moved.right) : active.voice.loudest_gain();
    return gain * item(plays_, active.play).envelope.level() * active.voice.envelope();
}

double Plays::expected_of_drawn(int sound) const noexcept {
    const PlannedSound& planned = plan_->at(sound);
    double most = 0;
    for (std::size_t l = 0; l < planned.layers.size(); ++l) {
        const DrawnLayer& drawn = tables_.drawn[l];
        if (!drawn.heard) continue;
        const model::Audio& audio = *item(plan_->project().clips, drawn.clip).audio;
        const Lap& lap = item(planned.layers[l].laps, drawn.take);
        const Sides sides = sides_of(
            drawn.mixed, drawn.mixed.share(static_cast<std::uint32_t>(l), planned.layers.size()), audio.channels == 1);
        most =
            std::max(most, std::max(sides.left, sides.right) * Voice::envelope_at(audio, lap, lap.turns, drawn.from));
    }
    return most;
}

/// Whether a play began at this very frame by a contact, so that it competes with others of the frame by strength.
bool Plays::contact_now(const Play& play, Frames now) const noexcept {
    return play.cause.trigger == ReportKind::contact && play.begun == now && unheard(play, now);
}

/// Of the plays that count for a limit and that weaker contacts began at this very frame, the weakest; none where the
/// newcomer is no contact, or weaker than all of them.
int Plays::weaker_contact(const Wanted& wanted, std::int16_t limit, Frames now) const noexcept {
    if (wanted.cause.trigger != ReportKind::contact) return none;
    const int priority = plan_->at(wanted.sound).sound->priority;
    float weakest = wanted.options.strength;
    int found = none;
    for (int i = line_.newest; i != none && item(plays_, i).begun == now; i = item(plays_, i).of_all.older) {
        const Play& play = item(plays_, i);
        if (!play.counted || play.chosen || !in(i, limit, wanted.sound) || !contact_now(play, now)) continue;
        if (plan_->at(play.sound).sound->priority > priority || play.options.strength >= weakest) continue;
        weakest = play.options.strength, found = i;
    }
    return found;
}

/// Of the plays that count for a limit the one of the lowest priority, and of those the oldest or the quietest; none
/// where all are of a higher priority than the newcomer, or where that is the quietest itself. Among contacts of one
/// frame the weakest goes first, and a weaker one never ends a stronger one.
int Plays::pick_victim(const Wanted& wanted, model::Full rule, std::int16_t limit, Frames now,
                       bool streams) const noexcept {
    const int priority = plan_->at(wanted.sound).sound->priority;
    const bool quietest = rule == model::Full::end_quietest, contact = wanted.cause.trigger == ReportKind::contact;
    int lowest = priority, found = none;
    const auto link = limit != 0 ? &Play::of_all : &Play::of_sound; // of one sound only its own are looked at
    const Line& line = limit == 0 ? item(tables_.sounds, wanted.sound).line : line_;
    for (int i = line.oldest; i != none; i = (item(plays_, i).*link).newer) {
        const Play& play = item(plays_, i);
        if (!play.counted || play.chosen || !in(i, limit, wanted.sound) || (streams && play.counted_streams == 0))
            continue;
        const bool rival = contact && contact_now(play, now);
        if (rival && !quietest && play.options.strength > wanted.options.strength) {
            if (rule == model::Full::restart) return none;
            continue;
        }
        const int own = plan_->at(play.sound).sound->priority;
        const bool weaker = found != none && own == lowest && rival && contact_now(item(plays_, found), now) &&
                            play.options.strength < item(plays_, found).options.strength;
        if (own < lowest || (own == lowest && found == none) || weaker) lowest = own, found = i;
    }
    if (!quietest || found == none) return found;
    double least = priority == lowest ? expected_of_drawn(wanted.sound) : 1e30;
    found = none;
    for (std::size_t begin = 0, end = 0; begin < order_.size(); begin = end) { // its voices stand side by side
        const int play = item(voices_, order_[begin]).play;
        double level = 0;
        for (; end < order_.size() && item(voices_, order_[end]).play == play; ++end)
            level = std::max(level, expected(order_[end]));
        const Play& one = item(plays_, play);
        if (!one.counted || one.chosen || !in(play, limit, wanted.sound) || (streams && one.counted_streams == 0) ||
            plan_->at(one.sound).sound->priority != lowest)
            continue;
        if (level < least || (level == least && found == none)) least = level, found = play;
    }
    return found;
}

/// Which limit decides, what it measures, and what it allows.
void Plays::note_limit(decisions::Record& record, std::int16_t limit, int sound, Frames now) const noexcept {
    record.limit = limit;
    const SoundState& state = item(tables_.sounds, sound);
    if (limit == decisions::Record::gap) {
        record.length = now - state.last_start;
        record.counted = plan_->at(sound).gap;
    } else if (limit != decisions::Record::engine) {
        record.length = limit == 0 ? state.counted : item(tables_.on_bus, limit - 1);
        record.counted =
            limit == 0 ? plan_->at(sound).sound->limit.plays : item(plan_->project().buses, limit - 1).limit.plays;
    }
}

bool Plays::make_room(const Wanted& wanted, const model::Limit& limit, std::int16_t number, decisions::Record& record,
                      Frames now) noexcept {
    if (limit.plays == 0) return true;
    const int counted = number == 0 ? item(tables_.sounds, wanted.sound).counted : item(tables_.on_bus, number - 1);
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
        if (victim == none) break;
        const bool by_strength = limit.full == model::Full::refuse || (limit.full == model::Full::end_oldest &&
                                                                       wanted.cause.trigger == ReportKind::contact &&
                                                                       contact_now(item(plays_, victim), now));
        item(plays_, victim).chosen = true;
        victims_.push_back({victim, number, by_strength ? model::Full::stronger_contact : limit.full});
    }
    return over <= 0;
}

/// Where more voices or streams are wanted than there may be, the least audible plays are stolen; false where they do
/// not suffice.
bool Plays::make_voices_free(const Wanted& wanted, int voices, int streams, Frames now) noexcept {
    int counted = counted_voices_ + voices, streamed = counted_streams_ + streams;
    for (const Victim& victim : victims_) { // those that are stolen stop counting before this one counts
        counted -= item(plays_, victim.play).counted_voices;
        streamed -= item(plays_, victim.play).counted_streams;
    }
    while (counted > most_voices_ || (streams > 0 && streamed > streams_.most())) {
        const bool of_streams = counted <= most_voices_;
        const int victim = pick_victim(wanted, model::Full::end_quietest, decisions::Record::engine, now, of_streams);
        if (victim == none) return false;
        item(plays_, victim).chosen = true;
        victims_.push_back({victim, decisions::Record::engine, model::Full::end_quietest});
        counted -= item(plays_, victim).counted_voices;
        streamed -= item(plays_, victim).counted_streams;
    }
    return true;
}

bool Plays::too_soon(const Wanted& wanted, Frames now) const noexcept {
    const SoundState& state = item(tables_.sounds, wanted.sound);
    return state.last_start >= 0 && now - state.last_start < plan_->at(wanted.sound).gap;
}

bool Plays::refused(const Wanted& wanted, bool too_soon, Frames now) noexcept {
    const PlannedSound& planned = plan_->at(wanted.sound);
    decisions::Record record = wanted.cause;
    record.frame = now;
    record.sound = wanted.sound;
    const auto decide = [&]() -> std::optional<Outcome> {
        if (too_soon) {
            note_limit(record, decisions::Record::gap, wanted.sound, now);
            record.rule = model::Full::refuse;
            return Outcome::refused_gap;
        }
        if (!make_room(wanted, planned.sound->limit, 0, record, now)) return Outcome::refused_limit;
        for (const int bus : planned.buses)
            if (!make_room(wanted, item(plan_->project().buses, bus).limit, static_cast<std::int16_t>(bus + 1), record,
                           now))
                return Outcome::refused_limit;
        const auto voices = static_cast<int>(std::count_if(
            tables_.drawn.begin(), tables_.drawn.begin() + static_cast<std::ptrdiff_t>(planned.layers.size()),
            [](const DrawnLayer& drawn) { return drawn.heard; }));
        const auto streams = std::count_if(
            tables_.drawn.begin(), tables_.drawn.begin() + static_cast<std::ptrdiff_t>(planned.layers.size()),
            [&](const DrawnLayer& drawn) {
                return drawn.heard && item(plan_->project().clips, drawn.clip).streamed();
            });
        if (static_cast<int>(free_voices_.size()) < voices || free_plays_.empty() ||
            !make_voices_free(wanted, voices, static_cast<int>(streams), now) ||
            (streams > 0 && streams_.free() < streams))
            return Outcome::refused_full;
        return std::nullopt;
    };
    const std::optional<Outcome> why = decide();
    if (!why) return false;
    for (const Victim& victim : victims_) item(plays_, victim.play).chosen = false;
    record.outcome = *why;
    journal_.write(record);
    return true;
}

} // namespace kiai::mixer
