// `after` and `every`: bindings that fire by time.
#pragma once

#include "core/mixer/change.h"
#include "core/model/binding_names.h"
#include "core/model/project.h"
#include "core/rules/agenda.h"

#include <vector>

namespace kiai::rules {

class Timers {
  public:
    /// [control] `agenda` must have room for all of them.
    Timers(const std::vector<model::Binding>& bindings, Agenda& agenda, int rate, std::uint64_t seed)
        : bindings_(bindings), agenda_(agenda), rate_(rate), seed_(seed), names_(model::names_of(bindings)),
          states_(bindings.size()) {}

    /// Starts the timers of a scope; -1: of none. [rt]
    void begin(int scope, Frames now) noexcept {
        for (std::size_t b = 0; b < bindings_.size(); ++b)
            if (bindings_[b].scope == scope) begin_one(b, now);
    }
    /// Continues existing timers and starts the others, if their scope is on. [rt]
    template<class ScopeOn>
    void go_on_from(const Timers& other, const mixer::Change& change, const ScopeOn& on, Frames now) noexcept {
        for (State& state : states_) state.turn = 0;
        for (std::size_t b = 0; b < other.states_.size(); ++b)
            if (change.bindings[b] >= 0) states_[static_cast<std::size_t>(change.bindings[b])] = other.states_[b];
        for (std::size_t b = 0; b < bindings_.size(); ++b)
            if (states_[b].turn == 0 && on(bindings_[b].scope)) begin_one(b, now);
    }
    /// Schedules the next time of an `every` that fired. [rt]
    void go_on(int binding) noexcept {
        if (bindings_[static_cast<std::size_t>(binding)].trigger != ReportKind::every) return;
        ++states_[static_cast<std::size_t>(binding)].turn;
        add(binding);
    }
    /// Moves the timers of a scope by the time of its pause. [rt]
    void shift(int scope, Frames by) noexcept {
        for (std::size_t b = 0; b < bindings_.size(); ++b)
            if (bindings_[b].scope == scope) states_[b].origin += by;
    }

  private:
    struct State {
        Frames origin = 0;
        std::int64_t turn = 1;
        double more = 0;         ///< seconds, what was added at random so far
        std::uint32_t begun = 0; ///< how often its scope was entered
    };
    void begin_one(std::size_t number, Frames now) noexcept {
        const model::Binding& binding = bindings_[number];
        const bool timer = binding.trigger == ReportKind::after || binding.trigger == ReportKind::every;
        if (!timer || binding.name.empty()) return;
        states_[number].origin = now;
        states_[number].turn = 1;
        ++states_[number].begun;
        add(static_cast<int>(number));
    }
    /// The n-th time is round(n x period x rate) after the first frame, so it does not drift. Random additions are
    /// drawn by how often the timer fired since its scope started.
    void add(int number) noexcept {
        const auto index = static_cast<std::size_t>(number);
        State& state = states_[index];
        const model::Duration period = bindings_[index].time;
        if (bindings_[index].more > 0) {
            if (state.turn == 1) state.more = 0;
            const model::Draw draw{seed_, names_[index], static_cast<std::uint64_t>(state.turn), state.begun};
            state.more += bindings_[index].more * draw(model::Purpose::interval);
        }
        const model::Duration all{period.value * static_cast<double>(state.turn), period.in_frames};
        agenda_.add(Agenda::Entry::Kind::timer, number, bindings_[static_cast<std::size_t>(number)].scope,
                    state.origin + all.frames(rate_) + static_cast<Frames>(state.more * rate_ + 0.5));
    }

    const std::vector<model::Binding>& bindings_;
    Agenda& agenda_;
    int rate_;
    std::uint64_t seed_;
    std::vector<std::uint64_t> names_;
    std::vector<State> states_;
};

} // namespace kiai::rules
