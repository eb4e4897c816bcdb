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

/// A table of names that only grows, and outlives the projects that use it. A lookup never waits; adding a name
/// allocates once. All calls are [any] thread, except the constructor and the destructor.
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
    struct Node {
        std::string name;
        NameId id = no_name;
        Node* next = nullptr;
    };
    /// A copy of a short name, so that most lookups read no node.
    struct Copy {
        static constexpr std::uint8_t none = 0xff, begun = 0xfe; ///< `size` before there is a copy
        NameId id = no_name;
        std::atomic<std::uint8_t> size{none};
        std::array<char, 23> text{};
    };
    /// The names of one hash, in a cache line.
    struct alignas(64) Bucket {
        std::atomic<Node*> nodes{nullptr};
        std::array<Copy, 2> copies;
    };
    static constexpr std::size_t chunk_size = 256, least_buckets = 256;
    struct Chunk {
        std::array<std::atomic<const Node*>, chunk_size> nodes{};
        std::array<std::atomic<std::uint64_t>, chunk_size> hashes{};
    };
    NameId add(std::string_view name, std::size_t most);
    Chunk& chunk_of(NameId id);
    const Node* find(const Node* from, const Node* until, std::string_view name) const noexcept;
    static void copy(const Node& node, Bucket& into) noexcept;

    std::vector<Bucket> buckets_;
    std::vector<std::atomic<Chunk*>> by_id_; ///< made as they are needed
    std::atomic<NameId> used_{1};
    std::string empty_;
};

} // namespace kiai::model
