// Where the render thread writes what it decided. Full means: the newest are lost, and counted.
#pragma once

#include "engine/record.h"
#include "engine/record_ring.h"

#include <kiai/engine.h>

#include <span>

namespace kiai::engine {

class Journal {
  public:
    Journal(std::size_t records, std::size_t levels)
        : records_(records), levels_(levels ? levels : 1), keep_levels_(levels > 0) {}

    /// A decision with its layers, whole or not at all. [rt]
    void write(const Record& record, std::span<const Record> layers = {}) noexcept {
        if (records_.room() < 2 + layers.size()) { // one place is kept for the count of what was lost
            ++lost_;
            return;
        }
        if (lost_ > 0) {
            Record gap;
            gap.frame = record.frame;
            gap.outcome = Outcome::log_full;
            gap.count = lost_;
            lost_ = 0;
            records_.push(gap);
        }
        records_.push(record, layers);
    }
    void write_level(const PlayLevel& level) noexcept {
        if (keep_levels_) levels_.push(level);
    }
    bool read(Record& into) noexcept { return records_.pop(into); }
    bool read_level(PlayLevel& into) noexcept { return levels_.pop(into); }

  private:
    RecordRing<Record> records_;
    RecordRing<PlayLevel> levels_;
    bool keep_levels_;
    std::uint64_t lost_ = 0;
};

} // namespace kiai::engine
