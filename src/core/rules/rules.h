// Decides whether a binding acts: its conditions, count, chance and gap.
#pragma once

#include "core/mixer/change.h"
#include "core/mixer/plays.h"
#include "core/model/project.h"
#include "core/rules/event.h"

#include <vector>

namespace kiai::rules {

class Rules {
  public:
    /// [control]
    Rules(const std::vector<model::Binding>& bindings, model::NameTable& names, int rate, std::uint64_t seed);

    /// Returns the clause that is false, or a number beyond the clauses that `rule_text` names; -1 if the binding acts
    /// and counts. `value`: the value of the clause. [rt]
    int broken(int binding, const Event& event, const mixer::Plays& plays, Frames now, float& value) noexcept;
    /// Takes over the counts. [rt]
    void go_on_from(const Rules& other, const mixer::Change& change) noexcept;
    /// Sets how often a binding was triggered before, and whether it has acted. [rt]
    void count_from(std::size_t binding, std::uint64_t came, bool acted) noexcept {
        if (binding >= states_.size()) return;
        states_[binding].came = came;
        states_[binding].acted = acted;
    }
    std::uint64_t came(std::size_t binding) const noexcept { return states_[binding].came; }
    bool acted(std::size_t binding) const noexcept { return states_[binding].acted; }
    /// Resets the counts per scope of the bindings whose scope was entered. [rt]
    void begin(int scope) noexcept;

    enum Other : int { once, every, chance, gap };
    /// Returns the condition as the log prints it: `fill > 0.8`, `once`, `every 3`. [any]
    static std::string text(const model::Binding& binding, int broken);

  private:
    struct State {
        std::vector<model::NameId> names; ///< of the values that its clauses ask for
        std::uint64_t hash = 0;
        std::uint64_t came = 0; ///< how often its clauses held
        bool acted = false;
        Frames last = -1;
    };
    float value_of(const model::Clause& clause, model::NameId name, const Event& event,
                   const mixer::Plays& plays) const noexcept;

    const std::vector<model::Binding>& bindings_;
    std::vector<State> states_;
    int rate_;
    std::uint64_t seed_;
};

} // namespace kiai::rules
