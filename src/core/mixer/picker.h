// Chooses the take of a play.
#pragma once

#include "core/mixer/shuffle.h"
#include "core/model/chance.h"
#include "core/model/project.h"

#include <vector>

namespace kiai::mixer {

class Picker {
  public:
    /// [control]
    explicit Picker(const model::Layer& layer)
        : pick_(layer.pick), repeats_(layer.repeats || layer.takes.size() < 2), takes_(layer.takes.size()),
          shuffle_(takes_) {
        double sum = 0;
        for (const double weight : layer.weights) up_to_.push_back(sum += weight);
        for (double& edge : up_to_) edge /= sum;
    }

    /// Returns the take of the `draw.count`-th play that contains the layer. Ask for each count from 0 upwards, as
    /// often as needed. [rt]
    int next(const model::Draw& draw) noexcept {
        switch (pick_) {
        case model::Pick::cycle:
            return static_cast<int>(draw.count % takes_);
        case model::Pick::weighted:
            return repeats_ ? weighted(draw(model::Purpose::take), -1) : unlike_the_last(draw);
        case model::Pick::shuffle:
            break;
        }
        return shuffle_.next(draw);
    }

    /// Continues as if the takes before the `draw.count`-th had been asked for. [rt]
    void pass(model::Draw draw) noexcept {
        const std::uint64_t count = draw.count;
        if (pick_ == model::Pick::weighted && !repeats_)
            for (draw.count = 0; draw.count < count; ++draw.count) next(draw);
        for (draw.count = 0; pick_ == model::Pick::shuffle && draw.count < count; draw.count += takes_) next(draw);
    }

    /// Continues where another picker arrived at the `count`-th play. `number_of` maps its takes to those here, or -1.
    /// [rt]
    template<class NumberOf>
    void go_on_from(const Picker& other, std::uint64_t count, const NumberOf& number_of) noexcept {
        if (!repeats_ && !other.repeats_ && other.counted_ > 0) {
            counted_ = other.counted_;
            last_ = number_of(other.last_);
            before_ = other.before_ >= 0 ? number_of(other.before_) : -1;
        }
        bool same = pick_ == other.pick_ && takes_ == other.takes_;
        for (int take = 0; same && take < static_cast<int>(takes_); ++take) same = number_of(take) == take;
        if (same) return shuffle_.go_on_from(other.shuffle_);
        const int last = other.pick_ == model::Pick::shuffle ? other.shuffle_.last(count) : -1;
        shuffle_.begin_at(count, last >= 0 ? number_of(last) : -1);
    }

  private:
    /// Chooses by weight, except `without`; `even`: 0 … 1.
    int weighted(double even, int without) const noexcept {
        const auto edge = [&](int take) { return take < 0 ? 0 : up_to_[static_cast<std::size_t>(take)]; };
        if (without >= 0) { // the later ones move up
            even *= 1 - (edge(without) - edge(without - 1));
            if (even >= edge(without - 1)) even += edge(without) - edge(without - 1);
        }
        int take = 0, last = static_cast<int>(takes_) - 1;
        if (last == without) --last;
        while (take < last && (even >= edge(take) || take == without)) ++take;
        return take;
    }
    /// Chooses by weight among all but the previous take. The same count gives the same take.
    int unlike_the_last(const model::Draw& draw) noexcept {
        if (counted_ != draw.count + 1) {
            before_ = counted_ == draw.count ? last_ : -1;
            counted_ = draw.count + 1;
        }
        return last_ = weighted(draw(model::Purpose::take), before_);
    }

    model::Pick pick_;
    bool repeats_;
    std::size_t takes_;
    Shuffle shuffle_;
    std::uint64_t counted_ = 0;   ///< without repeats: how many were asked for
    int last_ = -1, before_ = -1; ///< the last of them, and the one before that
    std::vector<double> up_to_;   ///< of the even draw: where each take's part ends
};

} // namespace kiai::mixer
