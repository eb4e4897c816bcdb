#include "core/rules/wind_down.h"

#include <algorithm>

namespace kiai::rules {

void WindDown::begin(double seconds, std::uint64_t by) noexcept {
    on_ = true;
    seconds_ = seconds;
    by_ = by;
    state_.agenda.remove_timers();
    keep_on();
}

void WindDown::keep_on() noexcept {
    state_.sequences.stop_if([&](int sequence, int) { return state_.sequences.endless(sequence); },
                             [](std::uint32_t) {});
    state_.plays->stop_loops(seconds_, by_, state_.now);
}

bool WindDown::once_more(std::vector<bool>& came, int number) noexcept {
    if (!on_) return true;
    const bool first = !came[static_cast<std::size_t>(number)];
    came[static_cast<std::size_t>(number)] = true;
    return first;
}

void WindDown::continue_from(const WindDown& other) noexcept {
    on_ = other.on_;
    seconds_ = other.seconds_;
    by_ = other.by_;
    std::copy(other.ended_.begin(), other.ended_.end(), ended_.begin());
    std::copy(other.ran_.begin(), other.ran_.end(), ran_.begin());
}

} // namespace kiai::rules
