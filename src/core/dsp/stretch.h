// Interpolates with a stretched filter.
#pragma once

#include "core/dsp/filter_bank.h"
#include "core/dsp/kernels.h"

#include <cstdint>
#include <vector>

namespace kiai::dsp {

/// Splits the source into `stretch` phases, so that the taps of one filter row meet contiguous frames. Owns the memory
/// for that.
class StretchedInterpolator {
  public:
    /// [control] At most `most_frames` of output and `most_source` frames of the clip at a time.
    StretchedInterpolator(int most_frames, int most_source);

    /// Sets out[i] to the source at the i-th position: `first[i]` is the index of the first tap's frame in `source`,
    /// `fraction[i]` the distance from the frame in 2^-32ths. [rt]
    void interpolate(const Kernels& kernels, const float* source, const Stretched& filter, const std::int32_t* first,
                     const std::uint32_t* fraction, int frames, float* out) noexcept;

  private:
    std::vector<float> phases_; ///< one after the other
    std::vector<std::int32_t> first_, row_;
    std::vector<float> blend_, parts_;
};

} // namespace kiai::dsp
