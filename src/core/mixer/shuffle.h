// Picks takes in rounds: each once per round, and never the same twice in a row if there are two or more.
#pragma once

#include "core/model/chance.h"

#include <algorithm>
#include <cstdint>
#include <numeric>
#include <utility>
#include <vector>

namespace kiai::mixer {

class Shuffle {
  public:
    explicit Shuffle(std::size_t takes) : order_(takes) {}

    /// Returns the take of the `draw.count`-th play. Ask for each count from the first upwards, as often as needed.
    /// [rt]
    int next(model::Draw draw) noexcept {
        const auto takes = static_cast<std::uint64_t>(order_.size());
        const std::uint64_t since = draw.count - first_, at = since % takes;
        draw.count = first_ + since / takes;
        if (draw.count + 1 != rounds_) begin_round(draw);
        return order_[static_cast<std::size_t>(at)];
    }
    /// Returns the take of the play before the `count`-th; -1 if there was none. [rt]
    int last(std::uint64_t count) const noexcept {
        if (rounds_ == 0 || count <= first_) return last_;
        return order_[static_cast<std::size_t>((count - first_ - 1) % order_.size())];
    }
    /// Continues in the middle of a round of another shuffle with as many takes. [rt]
    void go_on_from(const Shuffle& other) noexcept {
        std::copy(other.order_.begin(), other.order_.end(), order_.begin());
        rounds_ = other.rounds_;
        first_ = other.first_;
        last_ = other.last_;
    }
    /// Starts a round with the `count`-th play, and not with take `last`. [rt]
    void begin_at(std::uint64_t count, int last) noexcept {
        first_ = count;
        last_ = last;
    }

  private:
    /// Shuffles as Fisher and Yates. If the last take heard comes first, it swaps places with any other, drawn
    /// uniformly. Every order that does not start with it is then equally likely.
    void begin_round(const model::Draw& draw) noexcept {
        if (rounds_ > 0) last_ = order_.back();
        rounds_ = draw.count + 1;
        std::iota(order_.begin(), order_.end(), 0);
        for (std::size_t i = order_.size() - 1; i > 0; --i) {
            const double even = draw(model::Purpose::take, static_cast<std::uint32_t>(i));
            std::swap(order_[i], order_[static_cast<std::size_t>(even * static_cast<double>(i + 1))]);
        }
        if (order_.size() < 2 || order_[0] != last_) return;
        const double even = draw(model::Purpose::take, 0); // the shuffle has drawn from 1 on
        std::swap(order_[0], order_[1 + static_cast<std::size_t>(even * static_cast<double>(order_.size() - 1))]);
    }

    std::vector<int> order_;
    std::uint64_t rounds_ = 0; ///< the present round, from 1; 0: none has started
    std::uint64_t first_ = 0;  ///< the play that it began with
    int last_ = -1;            ///< heard before its round
};

} // namespace kiai::mixer
