// The interpolator's filters: one low-pass per quarter tone of an octave of pitching up. Each is a table with one row
// of taps per fraction of a frame. Higher octaves use the same filters, stretched.
#pragma once

#include <cstddef>
#include <cstdint>
#include <memory>
#include <vector>

namespace kiai::dsp {

/// One filter. Row r contains the taps for an output frame r / rows of a frame after the clip's frame. A position
/// between two rows interpolates both. The row after the last repeats the first, one frame later.
struct Filter {
    int taps = 0;   ///< per row, a multiple of 16
    int before = 0; ///< how many of them precede the position
    int rows = 0;

    const float* data() const noexcept { return table.front().taps; }

    /// Sixteen taps in one cache line: what the widest vectors load at once.
    struct alignas(64) Line {
        float taps[16];
    };
    std::vector<Line> table; ///< (rows + 1) x taps / 16
};

/// The source positions of several output frames; three arrays of one length.
struct Places {
    const std::int32_t* first; ///< index of its first tap's frame in the source handed to the kernel
    const std::int32_t* row;   ///< index of its row's first tap in the filter's table
    const float* blend;        ///< 0 … 1 from that row to the next
};

constexpr double slowest = 1.0 / 64, fastest = 32; ///< range of ratios: frames of the clip per frame of output
constexpr int most_stretch = 16;
constexpr int most_taps = 80 * most_stretch; ///< of any filter, stretched

/// A filter of the bank, stretched in time by a power of two, for ratios above 2. A stretched filter is not stored: its
/// taps are every `stretch`-th tap of a row of `filter`, from the d-th on, times `stretch`.
struct Stretched {
    const Filter* filter = nullptr; ///< null: none
    int stretch = 1;                ///< 1, 2, 4 … most_stretch

    int taps() const noexcept { return filter ? filter->taps * stretch : 0; }
    /// Returns how many of its taps precede the position.
    int before() const noexcept { return filter ? filter->before * stretch + stretch - 1 : 0; }
    explicit operator bool() const noexcept { return filter != nullptr; }
    bool operator==(const Stretched&) const = default;
};

/// The filters for ratios up to `fastest`. Made once; never changes.
class FilterBank {
  public:
    /// Returns the one bank of this process, made at the first call. [control]
    static const FilterBank& instance();

    /// Returns the filter for a ratio. Up to 1 that is the full band; above, the widest filter that lets no audible
    /// alias pass, which is one below 20 kHz at 48 kHz. [rt]
    Stretched for_ratio(double ratio) const noexcept;

  private:
    FilterBank();
    std::vector<Filter> filters_; ///< for ratios from 5/6 on
    Filter down_;                 ///< for lower ones
    std::vector<double> ratios_;
};

} // namespace kiai::dsp
