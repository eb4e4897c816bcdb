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

    /// The take of the `draw.count`-th play. Call it once for each count, from 0 upwards. [rt]
    int next(Draw draw) noexcept {
        const auto takes = static_cast<std::uint64_t>(order_.size());
        const std::uint64_t at = draw.count % takes;
        if (at == 0) {
            draw.count /= takes;
            begin_round(draw);
        }
        last_ = order_[at];
        return last_;
    }

  private:
    /// Fisher and Yates; then the first two change places where the first was the last one heard.
    void begin_round(const Draw& draw) noexcept {
        std::iota(order_.begin(), order_.end(), 0);
        for (std::size_t i = order_.size() - 1; i > 0; --i) {
            const double even = draw(Purpose::take, static_cast<std::uint32_t>(i));
            std::swap(order_[i], order_[static_cast<std::size_t>(even * static_cast<double>(i + 1))]);
        }
        if (order_.size() > 1 && order_[0] == last_) std::swap(order_[0], order_[1]);
    }

    std::vector<int> order_;
    int last_ = -1;
};

} // namespace kiai::engine
