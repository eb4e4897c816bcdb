#include "core/model/names.h"

#include "core/model/chance.h"
#include "core/model/prefetch.h"

#include <algorithm>
#include <bit>

namespace kiai::model {

NameTable::NameTable(std::size_t expected, const std::vector<std::string>& first)
    : buckets_(std::bit_ceil(std::clamp(expected, least_buckets, capacity))), by_id_(capacity / chunk_size) {
    for (const std::string& name : first) add(name);
}

NameTable::~NameTable() {
    for (std::atomic<Chunk*>& of : by_id_) {
        const Chunk* const chunk = of.load(std::memory_order_relaxed);
        if (!chunk) continue;
        for (const std::atomic<const Node*>& node : chunk->nodes) delete node.load(std::memory_order_relaxed);
        delete chunk;
    }
}

void NameTable::prefetch(std::string_view name) const noexcept {
    model::prefetch(&buckets_[hash(name) & (buckets_.size() - 1)]);
}

void NameTable::prefetch(NameId id) const noexcept {
    const Chunk* const chunk = id < capacity ? by_id_[id / chunk_size].load(std::memory_order_acquire) : nullptr;
    if (chunk) model::prefetch(&chunk->hashes[id % chunk_size]);
}

const NameTable::Node* NameTable::find(const Node* from, const Node* until, std::string_view name) const noexcept {
    for (; from != until; from = from->next)
        if (from->name == name) return from;
    return nullptr;
}

NameId NameTable::add(std::string_view name, std::size_t most) {
    const std::uint64_t hashed = hash(name);
    Bucket& bucket = buckets_[hashed & (buckets_.size() - 1)];
    if (name.size() <= std::tuple_size_v<decltype(Copy::text)>)
        for (const Copy& copy : bucket.copies)
            if (copy.size.load(std::memory_order_acquire) == name.size() &&
                std::equal(name.begin(), name.end(), copy.text.begin()))
                return copy.id;
    std::atomic<Node*>& head = bucket.nodes;
    Node* seen = head.load(std::memory_order_acquire);
    if (const Node* found = find(seen, nullptr, name)) return found->id;

    NameId id = used_.load(std::memory_order_relaxed);
    do {
        if (id >= most) return no_name;
    } while (!used_.compare_exchange_weak(id, id + 1, std::memory_order_relaxed));
    auto* node = new Node{std::string(name), id, seen};
    Chunk& chunk = chunk_of(id);
    chunk.nodes[id % chunk_size].store(node, std::memory_order_release);
    chunk.hashes[id % chunk_size].store(hashed, std::memory_order_release);
    while (!head.compare_exchange_weak(node->next, node, std::memory_order_acq_rel)) {
        // Another thread was first to add a name to this bucket, perhaps this one. Our number then stays unused.
        if (const Node* found = find(node->next, seen, name)) return found->id;
        seen = node->next;
    }
    copy(*node, bucket);
    return id;
}

/// The first names of a bucket are copied, unless they are too long.
void NameTable::copy(const Node& node, Bucket& into) noexcept {
    for (Copy& copy : into.copies) {
        std::uint8_t none = Copy::none;
        if (node.name.size() > copy.text.size() ||
            !copy.size.compare_exchange_strong(none, Copy::begun, std::memory_order_relaxed))
            continue;
        std::copy(node.name.begin(), node.name.end(), copy.text.begin());
        copy.id = node.id;
        copy.size.store(static_cast<std::uint8_t>(node.name.size()), std::memory_order_release);
        return;
    }
}

NameTable::Chunk& NameTable::chunk_of(NameId id) {
    std::atomic<Chunk*>& of = by_id_[id / chunk_size];
    Chunk* seen = of.load(std::memory_order_acquire);
    if (seen) return *seen;
    auto made = std::make_unique<Chunk>();
    if (of.compare_exchange_strong(seen, made.get(), std::memory_order_acq_rel)) return *made.release();
    return *seen; // another thread was first
}

const std::string& NameTable::text(NameId id) const noexcept {
    const Chunk* const chunk = id < capacity ? by_id_[id / chunk_size].load(std::memory_order_acquire) : nullptr;
    const Node* const node = chunk ? chunk->nodes[id % chunk_size].load(std::memory_order_acquire) : nullptr;
    return node ? node->name : empty_;
}

} // namespace kiai::model
