// PlayOptions on their way into `render`: fixed size, no text.
#pragma once

#include "core/model/names.h"

#include <kiai/report.h>

#include <cstdint>

namespace kiai::mixer {

struct PlayNumbers {
    float gain = 0, pitch = 0, pan = 0; ///< dB, semitones, -1 … 1
    float strength = 1, place = 0;
    std::int16_t layer = 0;
    FadeCurve curve = FadeCurve::equal_gain; ///< of the fade-in
    static constexpr std::int32_t as_written = -1;
    std::int32_t turns = as_written;           ///< of each loop; 0: without end
    model::NameId bus = model::no_name;        ///< `no_name`: its sound's
    double fade_in = 0, start = 0, length = 0; ///< seconds
};

} // namespace kiai::mixer
