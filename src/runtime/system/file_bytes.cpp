#include "runtime/system/file_bytes.h"

#include <algorithm>

namespace kiai::runtime {

std::size_t FileBytes::read(std::uint64_t from, std::span<std::byte> into) const noexcept {
    if (!in_memory_) return read_file(file_.handle, from, into);
    if (from >= held_.size()) return 0;
    const auto begin = static_cast<std::size_t>(from), count = std::min(into.size(), held_.size() - begin);
    std::copy_n(held_.begin() + static_cast<std::ptrdiff_t>(begin), count, into.begin());
    return count;
}

} // namespace kiai::runtime
