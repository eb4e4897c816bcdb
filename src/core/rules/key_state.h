// Keys that are down.
#pragma once

#include "core/rules/repeats.h"
#include "core/rules/state.h"

#include <vector>

namespace kiai::rules {

class KeyState {
  public:
    /// [control]
    KeyState(RuleState& state, Hub& hub) : state_(state), hub_(hub) { down_.reserve(most_down); }

    /// Presses a key. The same state again has no effect and is logged once, unless a binding uses the keyboard's
    /// repeats. [rt]
    void down(const Event& event) noexcept;
    void up(model::NameId name, bool lost) noexcept;
    void lose_all() noexcept {
        while (!down_.empty()) up(down_.back().name, true);
    }
    template<class Use>
    void for_each(const Use& use) const noexcept {
        for (const Down& key : down_) use(key.name);
    }
    void continue_from(KeyState& other) noexcept { down_.swap(other.down_); }

  private:
    static constexpr std::size_t most_down = 128;
    struct Down {
        model::NameId name = model::no_name;
        bool said = false; ///< that it was reported again while down
        Repeats repeats;
    };

    RuleState& state_;
    Hub& hub_;
    std::vector<Down> down_;
};

} // namespace kiai::rules
