// Which take a play gets.
#pragma once

#include "core/mixer/shuffle.h"
#include "core/model/chance.h"
#include "core/model/project.h"

#include <vector>

namespace kiai::mixer {

class Picker {
  public:
    /// [control]
    explicit Picker(const model::Layer& layer) : pick_(layer.pick), takes_(layer.takes.size()), shuffle_(takes_) {
        double sum = 0;
        for (const double weight : layer.weights) up_to_.push_back(sum += weight);
        for (double& edge : up_to_) edge /= sum;
    }

    /// The take of the `draw.count`-th play in which its layer is heard. Ask for each count from 0 upwards; as often as
    /// wanted. [rt]
    int next(const model::Draw& draw) noexcept {
        switch (pick_) {
        case model::Pick::cycle:
            return static_cast<int>(draw.count % takes_);
        case model::Pick::weighted: {
            const double even = draw(model::Purpose::take);
            std::size_t take = 0;
            while (take + 1 < takes_ && even >= up_to_[take]) ++take;
            return static_cast<int>(take);
        }
        case model::Pick::shuffle:
            break;
        }
        return shuffle_.next(draw);
    }

    /// As if the takes before the `draw.count`-th had been asked for. [rt]
    void pass(model::Draw draw) noexcept {
        const std::uint64_t count = draw.count;
        for (draw.count = 0; pick_ == model::Pick::shuffle && draw.count < count; draw.count += takes_) next(draw);
    }

    /// Goes on where another has come to at the `count`-th play. `number_of` gives the take here that one of the other
    /// is, or -1. [rt]
    template<class NumberOf>
    void go_on_from(const Picker& other, std::uint64_t count, const NumberOf& number_of) noexcept {
        bool same = pick_ == other.pick_ && takes_ == other.takes_;
        for (int take = 0; same && take < static_cast<int>(takes_); ++take) same = number_of(take) == take;
        if (same) return shuffle_.go_on_from(other.shuffle_);
        const int last = other.pick_ == model::Pick::shuffle ? other.shuffle_.last(count) : -1;
        shuffle_.begin_at(count, last >= 0 ? number_of(last) : -1);
    }

  private:
    model::Pick pick_;
    std::size_t takes_;
    Shuffle shuffle_;
    std::vector<double> up_to_; ///< of the even draw: where each take's part ends
};

} // namespace kiai::mixer
