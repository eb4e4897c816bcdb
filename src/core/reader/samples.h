// Clips that the app provides as samples.
#pragma once

#include "core/model/audio.h"

#include <kiai/clip_source.h>

#include <memory>
#include <string>

namespace kiai::reader {

/// Returns why the samples cannot be played; empty if they can.
std::string fault_of(const Samples& samples);

/// Copies samples without a fault.
std::shared_ptr<model::Audio> audio_of(const Samples& samples);

} // namespace kiai::reader
