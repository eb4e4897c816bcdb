// What can be heard of a clip, measured.
#pragma once

#include "core/model/audio.h"
#include "runtime/audio/audio_reader.h"

#include <kiai/facts.h>

#include <vector>

namespace kiai::workshop {

/// Fills in every measured member of `facts`: levels, silence, offset, clipping, seams. `facts` holds what the
/// container tells. [any]
void measure(const model::Audio& audio, Facts& facts);

/// Reads a file for its facts alone: all of them but the hash, and no samples. [any]
reader::Decoded decode_facts(const std::filesystem::path& file);

/// Above this, a seam is heard as a click.
constexpr Decibels audible_seam = -40;

/// The step between the end of [begin, end) and its beginning, beyond what the signal does by itself around it; dBFS.
Decibels measure_seam(const model::Audio& audio, LoopPoints loop);

/// One channel as floats; 1 is full scale.
std::vector<float> channel_of(const model::Audio& audio, int channel);

/// Where runs at full scale begin, in any channel, in order.
std::vector<Frames> clipped_frames(const model::Audio& audio);

} // namespace kiai::workshop
