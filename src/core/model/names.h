// Names as small numbers, so that a report fits a fixed-size command.
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

/// A table of names that only grows, and outlives the projects that use it. Looking a name up never waits; adding one
/// allocates, once per name. All calls are [any] thread but the constructor and the destructor.
class NameTable {
  public:
    static constexpr std::size_t capacity = 1 << 17;
    /// Kept free for the names of projects: what an app makes up as it runs never takes them.
    static constexpr std::size_t reserved = 1 << 16;

    /// `expected`: how many names there will be, so that a look-up among them stays a few steps. `first`: get the
    /// numbers from 1 on.
    explicit NameTable(std::size_t expected = 0, const std::vector<std::string>& first = {});
    ~NameTable();
    NameTable(const NameTable&) = delete;
    NameTable& operator=(const NameTable&) = delete;

    /// The number of a name of a project, added if it is new; `no_name` if the table is full. [control]
    NameId add(std::string_view name) { return add(name, capacity); }
    /// The number of a name that the app reports, added if it is new; `no_name` if the table is full but for what is
    /// reserved. [any]
    NameId add_reported(std::string_view name) { return add(name, capacity - reserved); }
    /// The text of a number that `add` gave.
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
