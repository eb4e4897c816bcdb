// Conditions on dials that begin and end.
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

    /// Looks at those that name a dial; -1: at all. [rt]
    void look(int dial, const mixer::Plays& plays, std::uint64_t from) noexcept;
    /// Those that are there still are on or off as they were; what the others held ends. [rt]
    void go_on_from(const Watches& other, const mixer::Change& change) noexcept;
    /// Those of a scope are off, and look again where it turns on. [rt]
    void forget(int scope) noexcept;
    /// The dial has been set: until then, and if kiai.toml gives it no start, no watch of it begins. [rt]
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
