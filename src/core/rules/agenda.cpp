#include "core/rules/agenda.h"

#include <algorithm>

namespace kiai::rules {

Agenda::Agenda(std::size_t bindings, std::size_t branches) : timers_(bindings) {
    heap_.reserve(bindings + branches);
    standing_.reserve(bindings + branches);
    for (auto& timer : timers_) timer.store(never, std::memory_order_relaxed);
}

void Agenda::add(Entry::Kind kind, int number, int scope, Frames due) noexcept {
    heap_.push_back({kind, number, scope, due, order_++});
    show(heap_.back(), due);
    std::push_heap(heap_.begin(), heap_.end(), later);
}

Agenda::Entry Agenda::take() noexcept {
    std::pop_heap(heap_.begin(), heap_.end(), later);
    const Entry first = heap_.back();
    heap_.pop_back();
    show(first, never);
    return first;
}

template<class Test>
void Agenda::remove_if(const Test& test) noexcept {
    const auto removes = [&](const Entry& entry) {
        if (!test(entry)) return false;
        show(entry, never);
        return true;
    };
    std::erase_if(standing_, removes);
    if (std::erase_if(heap_, removes) > 0) std::make_heap(heap_.begin(), heap_.end(), later);
}

void Agenda::remove(Entry::Kind kind, int number) noexcept {
    remove_if([&](const Entry& entry) { return entry.kind == kind && entry.number == number; });
}

void Agenda::remove_scope(int scope) noexcept {
    remove_if([&](const Entry& entry) { return entry.scope == scope; });
}

void Agenda::remove_timers() noexcept {
    remove_if([](const Entry& entry) { return entry.kind == Entry::Kind::timer; });
}

void Agenda::pause(int scope, Frames now) noexcept {
    for (const Entry& entry : heap_)
        if (entry.scope == scope) {
            standing_.push_back(entry);
            standing_.back().due -= now;
            show(entry, -1 - standing_.back().due);
        }
    if (std::erase_if(heap_, [&](const Entry& entry) { return entry.scope == scope; }) > 0)
        std::make_heap(heap_.begin(), heap_.end(), later);
}

void Agenda::resume(int scope, Frames now) noexcept {
    for (const Entry& entry : standing_)
        if (entry.scope == scope) {
            heap_.push_back(entry);
            heap_.back().due += now;
            show(entry, heap_.back().due);
            std::push_heap(heap_.begin(), heap_.end(), later);
        }
    std::erase_if(standing_, [&](const Entry& entry) { return entry.scope == scope; });
}

} // namespace kiai::rules
