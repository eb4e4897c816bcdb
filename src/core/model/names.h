// Maps names to small numbers, so that a report fits into a fixed-size command.
#pragma once

#include <array>
#include <atomic>
#include <cstddef>
#include <cstdint>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

namespace kiai::model {

using NameId = std::uint32_t;
constexpr NameId no_name = 0; ///< also what a full table gives

/// A table of names that only grows, and outlives the projects that use it. A lookup never waits and reads one cache
/// line; adding a name allocates. All calls are [any] thread, except the constructor and the destructor.
///
/// The table compares at least 55 bits of a name's hash instead of its text, which would take a second cache line. The
/// chance that any two of 1,000 names count as the same is 1 in 70 billion, of 100,000 names 1 in 7 million.
class NameTable {
  public:
    static constexpr std::size_t capacity = 1 << 17;
    /// Reserved for the names of projects, so that names invented by a running app cannot use them up.
    static constexpr std::size_t reserved = 1 << 16;

    /// `expected`: the expected number of names, which keeps lookups short. `first`: names that get the numbers from 1
    /// on.
    explicit NameTable(std::size_t expected = 0, const std::vector<std::string>& first = {});
    ~NameTable();
    NameTable(const NameTable&) = delete;
    NameTable& operator=(const NameTable&) = delete;

    /// Returns the number of a project's name, added if it is new; `no_name` if the table is full. [control]
    NameId add(std::string_view name) { return add(name, capacity); }
    /// Returns the number of a name that the app reports, added if it is new; `no_name` if only the reserve is left.
    /// [any]
    NameId add_reported(std::string_view name) { return add(name, capacity - reserved); }
    /// Prefetch what `add_reported` and `has` will read. [any]
    void prefetch(std::string_view name) const noexcept;
    void prefetch(NameId id) const noexcept;
    /// Returns the text of a number that `add` returned.
    const std::string& text(NameId id) const noexcept;
    /// Returns true if the text of that number has the hash. Reads less memory than `text`. [any]
    bool has(NameId id, std::uint64_t hash) const noexcept {
        const Chunk* const chunk = id < capacity ? by_id_[id / chunk_size].load(std::memory_order_acquire) : nullptr;
        return chunk && chunk->hashes[id % chunk_size].load(std::memory_order_acquire) == hash;
    }

  private:
    /// Names with one remainder of their hash, in a cache line: the upper part of the hash, and the number in the lower
    /// part; 0: none yet. They are filled in order and never change.
    struct alignas(64) Bucket {
        std::array<std::atomic<std::uint64_t>, 7> names{};
        std::atomic<Bucket*> more{nullptr};
    };
    static constexpr std::uint64_t id_mask = capacity - 1;
    static constexpr std::size_t chunk_size = 256, least_buckets = 256;
    struct Chunk {
        std::array<std::atomic<const std::string*>, chunk_size> texts{};
        std::array<std::atomic<std::uint64_t>, chunk_size> hashes{};
    };
    NameId add(std::string_view name, std::size_t most);
    NameId make(std::string_view name, std::uint64_t hash, std::size_t most);

    std::vector<Bucket> buckets_;
    std::vector<std::atomic<Chunk*>> by_id_; ///< made as they are needed
    std::atomic<NameId> used_{1};
    std::string empty_;
};

} // namespace kiai::model
