#include "core/engine/end_calls.h"
#include "core/model/sort_records.h"

#include <algorithm>
#include <iterator>
#include <utility>

namespace kiai::engine {

void EndCalls::await(mixer::Handles::Handle handle, std::function<void(EndReason)> call) {
    const std::lock_guard guard(mutex_);
    const auto is_it = [&](const Waiting& one) {
        return one.handle.slot == handle.slot && one.handle.generation == handle.generation;
    };
    std::erase_if(waiting_, is_it);
    for (Waiting& one : calling_)
        if (is_it(one)) one.call = nullptr;
    if (call) waiting_.push_back({handle, std::move(call)});
}

void EndCalls::call_ended(const std::function<void(const std::function<void()>&)>& guarded) {
    std::unique_lock guard(mutex_);
    if (waiting_.empty() || !calling_.empty()) return; // the latter: a call has called poll
    const auto over = std::stable_partition(waiting_.begin(), waiting_.end(),
                                            [&](const Waiting& one) { return handles_.playing(one.handle); });
    calling_.assign(std::make_move_iterator(over), std::make_move_iterator(waiting_.end()));
    waiting_.erase(over, waiting_.end());
    model::sort_records(calling_, [&](const Waiting& a, const Waiting& b) {
        return handles_.ended_at(a.handle) < handles_.ended_at(b.handle);
    });
    for (std::size_t i = 0; i < calling_.size(); ++i) {
        const auto call = std::move(calling_[i].call);
        const EndReason reason = handles_.reason(calling_[i].handle);
        guard.unlock();
        if (call) guarded([&] { call(reason); });
        guard.lock();
    }
    calling_.clear();
}

} // namespace kiai::engine
