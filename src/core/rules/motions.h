// Playheads, and the markers that they cross.
#pragma once

#include "core/model/project.h"
#include "core/rules/event.h"

#include <vector>

namespace kiai::rules {

constexpr int most_playheads = 16; ///< of one motion

class Motions {
  public:
    /// [control]
    Motions(const std::vector<model::Motion>& motions, model::NameTable& names, Hub& hub);

    /// Takes over the positions of the playheads. [rt]
    void go_on_from(Motions& other) noexcept {
        for (std::size_t m = 0; m < other.motions_.size(); ++m) motions_[m].playheads.swap(other.motions_[m].playheads);
    }
    int number_of(model::NameId name) const noexcept;
    /// Converts seconds to the motion's frames. [rt]
    double frame_at(int motion, double seconds) const noexcept {
        return seconds * motions_[static_cast<std::size_t>(motion)].rate;
    }
    /// Moves a playhead to `frame`; frames beyond the length wrap around. [rt]
    void report(int motion, int playhead, double frame) noexcept;
    /// Calls `use` with each playhead: motion, number, frame. [rt]
    template<class Use>
    void for_each(const Use& use) const noexcept {
        for (const Run& run : motions_)
            for (std::size_t p = 0; p < run.playheads.size(); ++p)
                if (run.playheads[p].known && !run.gone) use(run.name, static_cast<int>(p), run.playheads[p].frame);
    }
    /// Forgets the playhead, so that its next report counts as the first. [rt]
    void gone(int motion, int playhead) noexcept;

  private:
    struct Place {
        double frame = 0;
        model::NameId marker = model::no_name;
    };
    struct Playhead {
        bool known = false;
        double frame = 0; ///< as it was reported
    };
    struct Run {
        model::NameId name = model::no_name;
        double length = 1, rate = 30;
        bool gone = false;
        bool backwards = false;
        std::vector<Place> places; ///< ascending
        std::vector<Playhead> playheads;
    };
    double way(const Run& motion, double from, double to) const noexcept;
    void cross(const Run& motion, double from, double way) noexcept;
    void fire(const Run& motion, const Place& place) noexcept;

    std::vector<Run> motions_;
    Hub& hub_;
};

} // namespace kiai::rules
