// Summarises a rehearsal, by sound.
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
    int takes_heard = 0;                       ///< number of different takes that were heard
    int takes = 0;                             ///< number of takes of all layers
    int most_at_once = 0;                      ///< maximum of plays at once
    Semitones least_pitch = 0, most_pitch = 0; ///< of all layers of all plays
    Decibels least_gain = 0, most_gain = 0;
    Decibels peak = -200; ///< loudest play, dBFS
};

struct Summary {
    int triggers = 0;
    int unanswered = 0;               ///< without a zone or a binding
    std::vector<SoundSummary> sounds; ///< in the order of their first play
};

Summary summarise(const Rehearsal& rehearsal);

} // namespace kiai::inline v0
