// Describes the audio library's numbers of formats and codings.
#pragma once

#include <kiai/facts.h>

namespace kiai::runtime {

/// Returns true for sources of at most 16 bits, which keep 16 bits in memory; all others, and lossy ones, become float.
bool is_narrow(int format) noexcept;

/// Returns true if the file is uncompressed.
bool holds_samples(int format) noexcept;

/// Fills in format, coding and bits.
void describe_format(int format, Facts& facts);

} // namespace kiai::runtime
