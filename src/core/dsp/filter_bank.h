// The interpolator's filters: one low-pass per quarter tone of an octave of pitching up, each laid out as rows of taps,
// a row per fraction of a frame. The octaves above use the same filters, stretched.
#pragma once

#include <cstddef>
#include <cstdint>
#include <memory>
#include <vector>

namespace kiai::dsp {

/// One filter. Row r holds the taps for an output frame that lies r / rows of a frame behind the clip's frame; a place
/// between two rows is served by mixing both. The row after the last repeats the first, one frame on.
struct Filter {
    int taps = 0;   ///< per row, a multiple of 16
    int before = 0; ///< how many of them lie before the place
    int rows = 0;

    const float* data() const noexcept { return table.front().taps; }

    /// Sixteen taps in one line of the cache: what the widest vectors load at once.
    struct alignas(64) Line {
        float taps[16];
    };
    std::vector<Line> table; ///< (rows + 1) x taps / 16
};

/// Where in the source a few output frames lie; three arrays of one length.
struct Places {
    const std::int32_t* first; ///< index of its first tap's frame in the source handed to the kernel
    const std::int32_t* row;   ///< index of its row's first tap in the filter's table
    const float* blend;        ///< 0 … 1 from that row to the next
};

constexpr double slowest = 1.0 / 64, fastest = 32; ///< range of ratios: frames of the clip per frame of output
constexpr int most_stretch = 16;
constexpr int most_taps = 80 * most_stretch; ///< of any filter, stretched

/// A filter of the bank, stretched in time by a power of two: for a ratio above 2. A stretched filter is not stored.
/// Its taps, from the d-th on in steps of `stretch`, are those of one row of `filter`, times `stretch`.
struct Stretched {
    const Filter* filter = nullptr; ///< null: none
    int stretch = 1;                ///< 1, 2, 4 … most_stretch

    int taps() const noexcept { return filter ? filter->taps * stretch : 0; }
    /// How many of its taps lie before the place.
    int before() const noexcept { return filter ? filter->before * stretch + stretch - 1 : 0; }
    explicit operator bool() const noexcept { return filter != nullptr; }
    bool operator==(const Stretched&) const = default;
};

/// The filters for ratios up to `fastest`. Made once; never changes.
class FilterBank {
  public:
    /// The one bank of this process, made at the first call. [control]
    static const FilterBank& instance();

    /// The filter for a ratio: below or at 1 the full band; above, the widest step that lets nothing past which would
    /// be heard, below 20 kHz of an output of 48 kHz. [rt]
    Stretched for_ratio(double ratio) const noexcept;

  private:
    FilterBank();
    std::vector<Filter> filters_; ///< for ratios from 5/6 on
    Filter down_;                 ///< for lower ones
    std::vector<double> ratios_;
};

} // namespace kiai::dsp
