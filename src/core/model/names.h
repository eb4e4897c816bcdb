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
    /// Returns the text of a number that `add` returned.
    const std::string& text(NameId id) const noexcept;

  private:
    struct Node {
        std::string name;
        NameId id = no_name;
        Node* next = nullptr;
    };
    static constexpr std::size_t chunk_size = 256, least_buckets = 4096;
    using Chunk = std::array<std::atomic<const Node*>, chunk_size>;
    NameId add(std::string_view name, std::size_t most);
    Chunk& chunk_of(NameId id);
    const Node* find(const Node* from, const Node* until, std::string_view name) const noexcept;

    std::vector<std::atomic<Node*>> buckets_;
    std::vector<std::atomic<Chunk*>> by_id_; ///< made as they are needed
    std::atomic<NameId> used_{1};
    std::string empty_;
};

} // namespace kiai::model
