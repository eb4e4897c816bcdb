// The audio library's numbers for formats and codings, in words.
#pragma once

#include <kiai/facts.h>

namespace kiai::runtime {

/// Sources of at most 16 bits keep 16; all others, and lossy ones, become float.
bool is_narrow(int format) noexcept;

/// True where a file holds samples as they are, so that it is no smaller than they.
bool holds_samples(int format) noexcept;

/// Fills in format, coding and bits.
void describe_format(int format, Facts& facts);

} // namespace kiai::runtime
