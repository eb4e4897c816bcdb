// Picks takes in rounds: each once before any comes again, and never the same twice running where there are two or
// more.
#pragma once

#include "engine/chance.h"

#include <cstdint>
#include <numeric>
#include <utility>
#include <vector>

namespace kiai::engine {

class Shuffle {
  public:
    explicit Shuffle(std::size_t takes) : order_(takes) {}

    /// The take of the `draw.count`-th play. Ask for each count from 0 upwards; as often as wanted. [rt]
    int next(Draw draw) noexcept {
        const auto takes = static_cast<std::uint64_t>(order_.size());
        const std::uint64_t at = draw.count % takes;
        draw.count /= takes;
        if (draw.count + 1 != rounds_) begin_round(draw);
        return order_[at];
    }

  private:
    /// Fisher and Yates; then the first two change places where the first was the last one heard.
    void begin_round(const Draw& draw) noexcept {
        const int last = rounds_ > 0 ? order_.back() : -1;
        rounds_ = draw.count + 1;
        std::iota(order_.begin(), order_.end(), 0);
        for (std::size_t i = order_.size() - 1; i > 0; --i) {
            const double even = draw(Purpose::take, static_cast<std::uint32_t>(i));
            std::swap(order_[i], order_[static_cast<std::size_t>(even * static_cast<double>(i + 1))]);
        }
        if (order_.size() > 1 && order_[0] == last) std::swap(order_[0], order_[1]);
    }

    std::vector<int> order_;
    std::uint64_t rounds_ = 0; ///< begun so far
};

} // namespace kiai::engine
