#include "core/mixer/mix_tap.h"

#include <algorithm>
#include <bit>

namespace kiai::mixer {

void MixTap::turn_on(std::size_t frames) {
    if (!ring_) {
        size_ = std::bit_ceil(2 * frames);
        ring_ = std::make_unique<float[]>(size_);
    }
    on_.store(true, std::memory_order_release);
}

std::uint64_t MixTap::write(std::span<const float> samples) noexcept {
    if (!on_.load(std::memory_order_acquire)) return 0;
    const std::uint64_t written = written_.load(std::memory_order_relaxed);
    const bool room = size_ - (written - read_.load(std::memory_order_acquire)) >= samples.size();
    if (!room || (left_out_ > 0 && !gaps_.push({written, left_out_}))) {
        left_out_ += samples.size();
        return 0;
    }
    const std::uint64_t lost = left_out_ / 2;
    left_out_ = 0;
    const std::size_t at = written & (size_ - 1), first = std::min(samples.size(), size_ - at);
    std::copy_n(samples.data(), first, ring_.get() + at);
    std::copy_n(samples.data() + first, samples.size() - first, ring_.get());
    written_.store(written + samples.size(), std::memory_order_release);
    return lost;
}

std::size_t MixTap::read(std::span<float> into) noexcept {
    if (!ring_) return 0;
    const std::uint64_t read = read_.load(std::memory_order_relaxed),
                        written = written_.load(std::memory_order_acquire);
    if (gap_.samples == 0) gaps_.pop(gap_);
    if (gap_.samples > 0 && gap_.at == read) {
        const std::size_t count = static_cast<std::size_t>(std::min<std::uint64_t>(gap_.samples, into.size()));
        std::fill_n(into.data(), count, 0.0f);
        gap_.samples -= count;
        return count;
    }
    const std::uint64_t until = gap_.samples > 0 ? std::min(written, gap_.at) : written;
    const std::size_t at = read & (size_ - 1);
    const auto count = std::min({into.size(), static_cast<std::size_t>(until - read), size_ - at});
    std::copy_n(ring_.get() + at, count, into.data());
    read_.store(read + count, std::memory_order_release);
    return count;
}

} // namespace kiai::mixer
