#include "core/mixer/block_times.h"

#include <algorithm>
#include <vector>

namespace kiai::mixer {

void BlockTimes::add(const Block& block) noexcept {
    const std::uint64_t count = count_.load(std::memory_order_relaxed);
    Slot& slot = slots_[count % kept];
    slot.share.store(block.share, std::memory_order_relaxed);
    slot.frames.store(block.frames, std::memory_order_relaxed);
    slot.reports.store(block.reports, std::memory_order_relaxed);
    slot.scheduled.store(block.scheduled, std::memory_order_relaxed);
    slot.decisions.store(block.decisions, std::memory_order_relaxed);
    count_.store(count + 1, std::memory_order_release);
}

void BlockTimes::look(Frames frames, Load& load) const {
    const std::uint64_t count = count_.load(std::memory_order_acquire);
    std::vector<float> shares;
    for (std::uint64_t i = 0; i < std::min<std::uint64_t>(count, kept) && frames > 0; ++i) {
        const Slot& slot = slots_[(count - 1 - i) % kept];
        frames -= slot.frames.load(std::memory_order_relaxed);
        shares.push_back(slot.share.load(std::memory_order_relaxed));
        load.reports = std::max(load.reports, slot.reports.load(std::memory_order_relaxed));
        load.scheduled = std::max(load.scheduled, slot.scheduled.load(std::memory_order_relaxed));
        load.decisions = std::max(load.decisions, slot.decisions.load(std::memory_order_relaxed));
    }
    if (shares.empty()) return;
    const auto middle = shares.begin() + static_cast<std::ptrdiff_t>(shares.size() / 2);
    std::nth_element(shares.begin(), middle, shares.end());
    load.median = static_cast<double>(*middle);
    load.worst = static_cast<double>(*std::max_element(shares.begin(), shares.end()));
}

} // namespace kiai::mixer
