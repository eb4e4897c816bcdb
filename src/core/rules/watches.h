// Conditions on dials, which start and end.
#pragma once

#include "core/mixer/change.h"
#include "core/mixer/plays.h"
#include "core/model/project.h"
#include "core/rules/event.h"

#include <vector>

namespace kiai::rules {

class Watches {
  public:
    /// [control]
    Watches(const model::Project& project, model::NameTable& names, Hub& hub);

    /// Evaluates the watches that name a dial; -1: all. [rt]
    void look(int dial, const mixer::Plays& plays, std::uint64_t from) noexcept;
    /// Takes over the states of the remaining watches, and ends what the others held. [rt]
    void go_on_from(const Watches& other, const mixer::Change& change) noexcept;
    /// Turns the watches of a scope off. They are evaluated again when the scope turns on. [rt]
    void forget(int scope) noexcept;
    /// Returns true once the app has set the dial or kiai.toml gives it a start. Until then no watch of it starts. [rt]
    bool knows(int dial) const noexcept { return known_[static_cast<std::size_t>(dial)]; }
    void know(int dial) noexcept { known_[static_cast<std::size_t>(dial)] = true; }

  private:
    struct Watch {
        int binding = 0;
        model::NameId name = model::no_name;
        Holder holder = 0;
        bool on = false;
    };
    void look_at(Watch& watch, const mixer::Plays& plays, std::uint64_t from) noexcept;

    const std::vector<model::Binding>& bindings_;
    Hub& hub_;
    std::vector<Watch> watches_;
    std::vector<std::vector<int>> of_dial_;
    std::vector<bool> known_; ///< by dial
};

} // namespace kiai::rules
