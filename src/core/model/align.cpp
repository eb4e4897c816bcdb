#include "core/model/align.h"

#include <map>

namespace kiai::model {
namespace {

template<class Entry>
std::string identity(const std::vector<Entry>&, const Entry& entry) {
    return entry.name;
}

/// A bus with a new parent counts as a new bus, to which its current plays move.
std::string identity(const std::vector<Bus>& buses, const Bus& bus) {
    std::string path = bus.name;
    for (int up = bus.into; up >= 0; up = buses[static_cast<std::size_t>(up)].into)
        path += ' ' + buses[static_cast<std::size_t>(up)].name;
    return path;
}

template<class Entry>
Entry gone_of(const Entry& running) {
    Entry gone;
    gone.name = running.name;
    return gone;
}

/// Plays that still sound on a removed bus end with its old settings.
Bus gone_of(const Bus& running) {
    Bus gone = running;
    gone.limit = {0, {}, Full::end_oldest};
    gone.ducks.clear();
    return gone;
}

Sound gone_of(const Sound& running) {
    Sound gone;
    gone.name = running.name;
    gone.bus = running.bus;
    return gone;
}

/// Orders entries as in the running project, and returns the new number of each.
template<class Entry>
std::vector<int> arrange(std::vector<Entry>& entries, const std::vector<Entry>& running) {
    std::map<std::string, std::size_t> by_name;
    for (std::size_t e = 0; e < entries.size(); ++e) by_name.emplace(identity(entries, entries[e]), e);
    std::vector<int> numbers(entries.size(), -1);
    std::vector<Entry> arranged;
    const auto take = [&](std::size_t from) {
        numbers[from] = static_cast<int>(arranged.size());
        arranged.push_back(std::move(entries[from]));
    };
    for (const Entry& one : running) {
        const auto found = by_name.find(identity(running, one));
        if (found != by_name.end() && numbers[found->second] < 0) {
            take(found->second);
            continue;
        }
        arranged.push_back(gone_of(one));
        arranged.back().gone = true;
    }
    for (std::size_t e = 0; e < entries.size(); ++e)
        if (numbers[e] < 0) take(e);
    entries = std::move(arranged);
    return numbers;
}

struct Numbers {
    std::vector<int> sounds, buses, dials, zones, scopes, motions, sequences;
};

void renumber(int& number, const std::vector<int>& numbers) {
    if (number >= 0) number = numbers[static_cast<std::size_t>(number)];
}

void renumber(std::vector<Follow>& follows, const Numbers& numbers) {
    for (Follow& follow : follows)
        if (follow.value == Value::dial) renumber(follow.dial, numbers.dials);
}

void renumber(Condition& condition, const Numbers& numbers) {
    for (Clause& clause : condition)
        if (clause.value == Value::dial) renumber(clause.dial, numbers.dials);
}

void renumber(Action& action, const Numbers& numbers) {
    switch (action.target) {
    case Target::sound:
        return renumber(action.index, numbers.sounds);
    case Target::bus:
        return renumber(action.index, numbers.buses);
    case Target::scope:
        return renumber(action.index, numbers.scopes);
    case Target::sequence:
        return renumber(action.index, numbers.sequences);
    case Target::dial:
        return renumber(action.index, numbers.dials);
    case Target::none:
    case Target::everything:
    case Target::notice:
        return;
    }
}

void renumber(std::vector<Step>& steps, const Numbers& numbers) {
    for (Step& step : steps) {
        if (step.kind == Step::Kind::act) renumber(step.action, numbers);
        for (std::vector<Step>& part : step.parts) renumber(part, numbers);
    }
}

} // namespace

Project align(Project changed, const Project& running) {
    const Numbers numbers{arrange(changed.sounds, running.sounds),      arrange(changed.buses, running.buses),
                          arrange(changed.dials, running.dials),        arrange(changed.zones, running.zones),
                          arrange(changed.scopes, running.scopes),      arrange(changed.motions, running.motions),
                          arrange(changed.sequences, running.sequences)};
    for (Sound& sound : changed.sounds) {
        if (sound.gone) continue;
        renumber(sound.bus, numbers.buses);
        renumber(sound.follows, numbers);
        for (Lfo& lfo : sound.lfos) renumber(lfo.follows, numbers);
        for (Layer& layer : sound.layers) {
            renumber(layer.follows, numbers);
            for (Lfo& lfo : layer.lfos) renumber(lfo.follows, numbers);
        }
    }
    for (Bus& bus : changed.buses) {
        if (bus.gone) continue; // its numbers are those of the buses that run
        renumber(bus.into, numbers.buses);
        renumber(bus.follows, numbers);
        for (Duck& duck : bus.ducks) renumber(duck.under, numbers.buses);
    }
    for (Zone& zone : changed.zones) renumber(zone.scope, numbers.scopes);
    for (Sequence& sequence : changed.sequences) {
        renumber(sequence.scope, numbers.scopes);
        renumber(sequence.steps, numbers);
    }
    for (Binding& binding : changed.bindings) {
        renumber(binding.scope, numbers.scopes);
        renumber(binding.watch, numbers);
        renumber(binding.when, numbers);
        for (Action& action : binding.actions) renumber(action, numbers);
    }
    return changed;
}

} // namespace kiai::model
