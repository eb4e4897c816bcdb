#include "core/model/sort_records.h"

#include <algorithm>
#include <numeric>

namespace kiai::model {

std::vector<std::uint32_t> order_of(std::size_t count,
                                    const std::function<bool(std::uint32_t, std::uint32_t)>& before) {
    std::vector<std::uint32_t> order(count);
    std::iota(order.begin(), order.end(), 0u);
    std::stable_sort(order.begin(), order.end(), before);
    return order;
}

} // namespace kiai::model
