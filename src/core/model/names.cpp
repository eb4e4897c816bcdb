#include "core/model/names.h"

#include "core/model/chance.h"

namespace kiai::model {
namespace {
constexpr std::size_t bucket_count = NameTable::capacity; // so that a look-up stays one step however many there are
}

NameTable::NameTable() : buckets_(bucket_count), by_id_(capacity) {}

NameTable::~NameTable() {
    for (std::atomic<const Node*>& node : by_id_) delete node.load(std::memory_order_relaxed);
}

const NameTable::Node* NameTable::find(const Node* from, const Node* until, std::string_view name) const noexcept {
    for (; from != until; from = from->next)
        if (from->name == name) return from;
    return nullptr;
}

NameId NameTable::add(std::string_view name, std::size_t most) {
    std::atomic<Node*>& head = buckets_[hash(name) % bucket_count];
    Node* seen = head.load(std::memory_order_acquire);
    if (const Node* found = find(seen, nullptr, name)) return found->id;

    NameId id = used_.load(std::memory_order_relaxed);
    do {
        if (id >= most) return no_name;
    } while (!used_.compare_exchange_weak(id, id + 1, std::memory_order_relaxed));
    auto* node = new Node{std::string(name), id, seen};
    by_id_[id].store(node, std::memory_order_release);
    while (!head.compare_exchange_weak(node->next, node, std::memory_order_acq_rel)) {
        // Another thread was first with a name of this bucket: perhaps with this one. Our number then stays unused.
        if (const Node* found = find(node->next, seen, name)) return found->id;
        seen = node->next;
    }
    return id;
}

const std::string& NameTable::text(NameId id) const noexcept {
    const Node* node = id < capacity ? by_id_[id].load(std::memory_order_acquire) : nullptr;
    return node ? node->name : empty_;
}

} // namespace kiai::model
