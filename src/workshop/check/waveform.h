// The waveform of a clip, as columns of peaks.
#pragma once

#include "core/model/audio.h"

#include <kiai/workshop/catalogue.h>

#include <vector>

namespace kiai::workshop {

/// `count`: 1 … 10,000. Marks the columns in which runs at full scale start.
std::vector<Column> waveform_of(const model::Audio& audio, int count);

} // namespace kiai::workshop
