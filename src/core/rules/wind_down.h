// Winds a run down: everything that repeats ends, and an end may cause one more play of each sound, not more.
#pragma once

#include "core/rules/state.h"

#include <vector>

namespace kiai::rules {

class WindDown {
  public:
    explicit WindDown(RuleState& state)
        : state_(state), ended_(state.project.sounds.size()), ran_(state.project.sequences.size()) {}

    /// Fades endless plays over `seconds`; `by`: the number in the log. [rt]
    void begin(double seconds, std::uint64_t by) noexcept;
    /// Also ends what has started since and would never end. [rt]
    void keep_on() noexcept;
    bool on() const noexcept { return on_; }
    /// Return true if the end of a sound may be answered, or a sequence may run: once each during the wind-down. [rt]
    bool may_end(int sound) noexcept { return once_more(ended_, sound); }
    bool may_run(int sequence) noexcept { return once_more(ran_, sequence); }
    void continue_from(const WindDown& other) noexcept;

  private:
    bool once_more(std::vector<bool>& came, int number) noexcept;

    RuleState& state_;
    bool on_ = false;
    double seconds_ = 0;            ///< of the fade
    std::uint64_t by_ = 0;          ///< its number in the log
    std::vector<bool> ended_, ran_; ///< sounds and sequences that have come once more
};

} // namespace kiai::rules
