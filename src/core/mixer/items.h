// Vectors indexed by the plain numbers of the real-time core.
#pragma once

#include <cstddef>

namespace kiai::mixer {

template<class Items>
auto& item(Items& items, int index) noexcept {
    return items[static_cast<std::size_t>(index)];
}

} // namespace kiai::mixer
