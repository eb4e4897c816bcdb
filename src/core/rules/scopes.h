// Which parts of the app's life are on.
#pragma once

#include "core/model/names.h"
#include "core/model/project.h"

#include <algorithm>
#include <vector>

namespace kiai::rules {

class Scopes {
  public:
    /// [control]
    Scopes(const std::vector<model::Scope>& scopes, model::NameTable& names) : states_(scopes.size()) {
        for (const model::Scope& scope : scopes) {
            names_.push_back(names.add(scope.name));
            gone_.push_back(scope.gone);
        }
    }
    void go_on_from(const Scopes& other) noexcept {
        std::copy(other.states_.begin(), other.states_.end(), states_.begin());
    }
    int number_of(model::NameId name) const noexcept {
        for (std::size_t s = 0; s < names_.size(); ++s)
            if (names_[s] == name && !gone_[s]) return static_cast<int>(s);
        return -1;
    }
    model::NameId name(int scope) const noexcept { return names_[static_cast<std::size_t>(scope)]; }
    int count() const noexcept { return static_cast<int>(states_.size()); }
    /// -1, which is none, is always on.
    bool on(int scope) const noexcept { return scope < 0 || states_[static_cast<std::size_t>(scope)].on; }
    bool paused(int scope) const noexcept { return scope >= 0 && states_[static_cast<std::size_t>(scope)].paused; }
    /// False where it is so already.
    bool turn(int scope, bool on) noexcept {
        State& state = states_[static_cast<std::size_t>(scope)];
        if (state.on == on) return false;
        state = {on, false};
        return true;
    }
    bool pause(int scope, bool paused) noexcept {
        State& state = states_[static_cast<std::size_t>(scope)];
        if (!state.on || state.paused == paused) return false;
        state.paused = paused;
        return true;
    }

  private:
    struct State {
        bool on = false, paused = false;
    };
    std::vector<model::NameId> names_;
    std::vector<bool> gone_;
    std::vector<State> states_;
};

} // namespace kiai::rules
