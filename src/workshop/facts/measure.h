// Measures the audible properties of a clip.
#pragma once

#include "core/model/audio.h"
#include "runtime/audio/audio_reader.h"

#include <kiai/facts.h>

#include <vector>

namespace kiai::workshop {

/// Fills in every measured member of `facts`: levels, silence, offset, clipping, loop steps. `facts` contains what the
/// container states. [any]
void measure(const model::Audio& audio, Facts& facts);

/// Reads the facts of a file, except the hash, and no samples. [any]
reader::Decoded decode_facts(const std::filesystem::path& file);

/// A larger step at a loop point is heard as a click.
constexpr Decibels audible_seam = -40;

/// Returns the step from the end of [begin, end) to its beginning, beyond what the signal does around it; dBFS.
Decibels measure_seam(const model::Audio& audio, LoopPoints loop);

/// Returns one channel as floats; 1 is full scale.
std::vector<float> channel_of(const model::Audio& audio, int channel);

/// Returns where runs at full scale start, in any channel, in order.
std::vector<Frames> clipped_frames(const model::Audio& audio);

} // namespace kiai::workshop
