// A sequence as a list of small steps that can be paused and resumed.
#pragma once

#include "core/model/project.h"

#include <kiai/units.h>

#include <algorithm>
#include <vector>

namespace kiai::rules {

struct Op {
    enum class Kind : std::uint8_t {
        act,
        wait,
        wait_for_end,
        repeat, ///< goes to `to` where it is done `count` times
        again,  ///< back to the repeat at `to`
        fork,   ///< begins a branch at each of the next `count` ops, which only say where (`to`)
        part,
        over,
    };
    Kind kind = Kind::over;
    const model::Action* action = nullptr;
    double frames = 0; ///< of a wait, not rounded
    double more = 0;   ///< the maximum that is added at random
    int count = 0;
    int to = 0;
    int depth = 0; ///< of a repeat within others
};

class Score {
  public:
    /// [control]
    Score(const std::vector<model::Step>& steps, int rate) : rate_(rate) {
        add(steps, 0);
        ops_.push_back({});
    }
    const Op& at(int place) const noexcept { return ops_[static_cast<std::size_t>(place)]; }
    bool endless() const noexcept {
        return std::any_of(ops_.begin(), ops_.end(),
                           [](const Op& op) { return op.kind == Op::Kind::repeat && op.count == 0; });
    }
    static constexpr int deepest = 16; ///< repeats within repeats; the reader allows fewer

  private:
    int here() const noexcept { return static_cast<int>(ops_.size()); }
    Op& op(int place) noexcept { return ops_[static_cast<std::size_t>(place)]; }
    Op& add(Op::Kind kind) {
        ops_.push_back({});
        ops_.back().kind = kind;
        return ops_.back();
    }
    void add(const std::vector<model::Step>& steps, int depth) {
        for (const model::Step& step : steps) add(step, depth);
    }
    void add(const model::Step& step, int depth) {
        switch (step.kind) {
        case model::Step::Kind::act:
            add(Op::Kind::act).action = &step.action;
            return;
        case model::Step::Kind::wait:
            add(Op::Kind::wait).frames = step.time.exact_frames(rate_);
            ops_.back().more = step.more * rate_;
            return;
        case model::Step::Kind::wait_for_end:
            add(Op::Kind::wait_for_end);
            return;
        case model::Step::Kind::repeat: {
            const int begin = here();
            Op& repeat = add(Op::Kind::repeat);
            repeat.count = step.count;
            repeat.depth = depth;
            add(step.parts[0], depth + 1);
            add(Op::Kind::again).to = begin;
            op(begin).to = here();
            return;
        }
        case model::Step::Kind::together: {
            const int begin = here();
            const auto parts = static_cast<int>(step.parts.size());
            add(Op::Kind::fork).count = parts;
            for (int p = 0; p < parts; ++p) add(Op::Kind::part);
            for (int p = 0; p < parts; ++p) {
                op(begin + 1 + p).to = here();
                add(step.parts[static_cast<std::size_t>(p)], 0);
                add(Op::Kind::over);
            }
            op(begin).to = here();
            return;
        }
        }
    }

    int rate_;
    std::vector<Op> ops_;
};

} // namespace kiai::rules
