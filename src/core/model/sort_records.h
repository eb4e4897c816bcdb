// Sorts what is expensive to move.
#pragma once

#include <cstddef>
#include <cstdint>
#include <functional>
#include <utility>
#include <vector>

namespace kiai::model {

/// Returns the numbers 0 … count - 1 in an order; of equal ones the smaller comes first. [control]
std::vector<std::uint32_t> order_of(std::size_t count, const std::function<bool(std::uint32_t, std::uint32_t)>& before);

/// Sorts records and moves each once; equal ones keep their order. Each type of record gets its own copy of the
/// standard library's sorts, about 10 kB of a game's program; of this one it gets less than 1 kB. [control]
template<class Record, class Before>
void sort_records(std::vector<Record>& records, Before before) {
    std::vector<Record> sorted;
    sorted.reserve(records.size());
    for (const std::uint32_t at :
         order_of(records.size(), [&](std::uint32_t a, std::uint32_t b) { return before(records[a], records[b]); }))
        sorted.push_back(std::move(records[at]));
    records.swap(sorted);
}

} // namespace kiai::model
