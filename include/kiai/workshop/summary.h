// A rehearsal in numbers, a row for each sound.
#pragma once

#include <kiai/workshop/rehearse.h>

#include <string>
#include <vector>

namespace kiai::inline v0 {

struct SoundSummary {
    std::string sound;
    int plays = 0;
    int refused = 0;
    int stolen = 0;
    int takes_heard = 0;                       ///< different ones, of all layers
    int takes = 0;                             ///< that there are
    int most_at_once = 0;                      ///< plays that sounded together
    Semitones least_pitch = 0, most_pitch = 0; ///< over the layers of all plays
    Decibels least_gain = 0, most_gain = 0;
    Decibels peak = -200; ///< loudest play, dBFS
};

struct Summary {
    int triggers = 0;
    int unanswered = 0;               ///< no zone or no binding
    std::vector<SoundSummary> sounds; ///< in the order in which they were first asked for
};

Summary summarise(const Rehearsal& rehearsal);

} // namespace kiai::inline v0
