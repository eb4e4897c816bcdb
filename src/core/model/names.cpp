#include "core/model/names.h"

#include "core/model/chance.h"
#include "core/model/prefetch.h"

#include <algorithm>
#include <bit>
#include <utility>

namespace kiai::model {

namespace {

/// Returns what a pointer points to. The first thread that needs it makes it.
template<class Made>
Made& made_by_first(std::atomic<Made*>& pointer) {
    Made* seen = pointer.load(std::memory_order_acquire);
    if (seen) return *seen;
    auto made = std::make_unique<Made>();
    return pointer.compare_exchange_strong(seen, made.get(), std::memory_order_acq_rel) ? *made.release() : *seen;
}

} // namespace

NameTable::NameTable(std::size_t expected, const std::vector<std::string>& first)
    : buckets_(std::bit_ceil(std::clamp(expected / 4, least_buckets, capacity / 4))), by_id_(capacity / chunk_size) {
    for (const std::string& name : first) add(name);
}

NameTable::~NameTable() {
    for (Bucket& bucket : buckets_)
        for (Bucket* more = bucket.more.load(std::memory_order_relaxed); more;)
            delete std::exchange(more, more->more.load(std::memory_order_relaxed));
    for (std::atomic<Chunk*>& of : by_id_) {
        const Chunk* const chunk = of.load(std::memory_order_relaxed);
        if (!chunk) continue;
        for (const std::atomic<const std::string*>& text : chunk->texts) delete text.load(std::memory_order_relaxed);
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

NameId NameTable::add(std::string_view name, std::size_t most) {
    const std::uint64_t hashed = hash(name), upper = hashed & ~id_mask;
    NameId made = no_name;
    for (Bucket* bucket = &buckets_[hashed & (buckets_.size() - 1)];; bucket = &made_by_first(bucket->more))
        for (std::atomic<std::uint64_t>& place : bucket->names) {
            std::uint64_t seen = place.load(std::memory_order_acquire);
            if (seen == 0) {
                if (made == no_name) made = make(name, hashed, most);
                if (made == no_name) return no_name;
                if (place.compare_exchange_strong(seen, upper | made, std::memory_order_acq_rel)) return made;
                // Another thread was first. If it added this name, our number stays unused.
            }
            if ((seen & ~id_mask) == upper) return static_cast<NameId>(seen & id_mask);
        }
}

/// Returns a new number for a name, `no_name` if there is none left.
NameId NameTable::make(std::string_view name, std::uint64_t hash, std::size_t most) {
    NameId id = used_.load(std::memory_order_relaxed);
    do {
        if (id >= most) return no_name;
    } while (!used_.compare_exchange_weak(id, id + 1, std::memory_order_relaxed));
    Chunk& chunk = made_by_first(by_id_[id / chunk_size]);
    chunk.texts[id % chunk_size].store(new std::string(name), std::memory_order_release);
    chunk.hashes[id % chunk_size].store(hash, std::memory_order_release);
    return id;
}

const std::string& NameTable::text(NameId id) const noexcept {
    const Chunk* const chunk = id < capacity ? by_id_[id / chunk_size].load(std::memory_order_acquire) : nullptr;
    const std::string* const text = chunk ? chunk->texts[id % chunk_size].load(std::memory_order_acquire) : nullptr;
    return text ? *text : empty_;
}

} // namespace kiai::model
