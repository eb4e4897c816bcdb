#include "core/rules/rules.h"

#include "core/model/binding_names.h"

#include <cmath>
#include <limits>

namespace kiai::rules {

Rules::Rules(const std::vector<model::Binding>& bindings, model::NameTable& names, int rate, std::uint64_t seed)
    : bindings_(bindings), rate_(rate), seed_(seed) {
    for (const std::uint64_t name : model::names_of(bindings)) states_.emplace_back().hash = name;
    for (std::size_t b = 0; b < bindings.size(); ++b)
        for (const model::Clause& clause : bindings[b].when) states_[b].names.push_back(names.add(clause.name));
}

void Rules::go_on_from(const Rules& other, const mixer::Change& change) noexcept {
    for (std::size_t b = 0; b < other.states_.size(); ++b) {
        if (change.bindings[b] < 0) continue;
        State& state = states_[static_cast<std::size_t>(change.bindings[b])];
        state.came = other.states_[b].came;
        state.acted = other.states_[b].acted;
        state.last = other.states_[b].last;
    }
}

float Rules::value_of(const model::Clause& clause, model::NameId name, const Event& event,
                      const mixer::Plays& plays) const noexcept {
    switch (clause.value) {
    case model::Value::strength:
        return event.options.strength;
    case model::Value::place:
        return event.options.place;
    case model::Value::dial:
        return static_cast<float>(plays.dial(clause.dial));
    case model::Value::own:
        for (const mixer::NamedNumber& given : event.values)
            if (given.name == name) return given.value;
    }
    return std::numeric_limits<float>::quiet_NaN(); // it was not given: no comparison holds
}

int Rules::broken(int number, const Event& event, const mixer::Plays& plays, Frames now, float& value) noexcept {
    const model::Binding& binding = bindings_[static_cast<std::size_t>(number)];
    State& state = states_[static_cast<std::size_t>(number)];
    const auto clauses = static_cast<int>(binding.when.size());
    for (int c = 0; c < clauses; ++c) {
        const model::Clause& clause = binding.when[static_cast<std::size_t>(c)];
        value = value_of(clause, state.names[static_cast<std::size_t>(c)], event, plays);
        const double exact = clause.value == model::Value::dial ? plays.dial(clause.dial) : value;
        if (std::isnan(value) || !clause.holds(exact)) return c;
    }
    value = std::numeric_limits<float>::quiet_NaN();
    if (binding.once && state.acted) return clauses + once;
    const std::uint64_t turn = state.came++;
    if ((turn + 1) % static_cast<std::uint64_t>(binding.nth) != 0) return clauses + every;
    if (binding.chance < 1 && model::Draw{seed_, state.hash, turn, 0}(model::Purpose::chance) >= binding.chance)
        return clauses + chance;
    if (state.last >= 0 && now - state.last < binding.gap.frames(rate_)) return clauses + gap;
    state.acted = true;
    state.last = now;
    return -1;
}

void Rules::begin(int scope) noexcept {
    for (std::size_t b = 0; b < bindings_.size(); ++b)
        if (bindings_[b].scope == scope) states_[b].acted = false, states_[b].came = 0;
}

std::string Rules::text(const model::Binding& binding, int broken) {
    const auto clauses = static_cast<int>(binding.when.size());
    if (broken < clauses) return model::to_string(binding.when[static_cast<std::size_t>(broken)]);
    switch (broken - clauses) {
    case once:
        return "once";
    case every:
        return "every " + std::to_string(binding.nth);
    case chance:
        return "chance " + std::to_string(binding.chance).substr(0, 5);
    default:
        return "gap";
    }
}

} // namespace kiai::rules
