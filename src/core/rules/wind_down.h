// The end of a run: what repeats ends, and what ends may cause one more of each, not more.
#pragma once

#include "core/rules/state.h"

#include <vector>

namespace kiai::rules {

class WindDown {
  public:
    explicit WindDown(RuleState& state)
        : state_(state), ended_(state.project.sounds.size()), ran_(state.project.sequences.size()) {}

    /// Fades what loops, over `seconds`; `by`: its number in the log. [rt]
    void begin(double seconds, std::uint64_t by) noexcept;
    /// What began since, and would continue for ever, ends too. [rt]
    void keep_on() noexcept;
    bool on() const noexcept { return on_; }
    /// Whether the end of a sound may be answered, or a sequence may run: while it winds down, each once. [rt]
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
