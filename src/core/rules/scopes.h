// The scopes that are on.
#pragma once

#include "core/model/names.h"
#include "core/model/project.h"

#include <kiai/state.h>

#include <atomic>
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
        for (std::size_t s = 0; s < other.states_.size(); ++s) states_[s].store(other.states_[s].load());
    }
    int number_of(model::NameId name) const noexcept {
        for (std::size_t s = 0; s < names_.size(); ++s)
            if (names_[s] == name && !gone_[s]) return static_cast<int>(s);
        return -1;
    }
    model::NameId name(int scope) const noexcept { return names_[static_cast<std::size_t>(scope)]; }
    int count() const noexcept { return static_cast<int>(states_.size()); }
    /// [any]
    ScopeState state(int scope) const noexcept {
        return states_[static_cast<std::size_t>(scope)].load(std::memory_order_relaxed);
    }
    /// Returns true for -1, which is no scope.
    bool on(int scope) const noexcept { return scope < 0 || state(scope) != ScopeState::off; }
    bool paused(int scope) const noexcept { return scope >= 0 && state(scope) == ScopeState::paused; }
    /// Returns false if the scope already has that state.
    bool turn(int scope, bool turned_on) noexcept {
        if (on(scope) == turned_on) return false;
        set(scope, turned_on ? ScopeState::on : ScopeState::off);
        return true;
    }
    bool pause(int scope, bool pauses) noexcept {
        if (!on(scope) || paused(scope) == pauses) return false;
        set(scope, pauses ? ScopeState::paused : ScopeState::on);
        return true;
    }

  private:
    void set(int scope, ScopeState to) noexcept {
        states_[static_cast<std::size_t>(scope)].store(to, std::memory_order_relaxed);
    }

    std::vector<model::NameId> names_;
    std::vector<bool> gone_;
    std::vector<std::atomic<ScopeState>> states_; ///< other threads may ask
};

} // namespace kiai::rules
