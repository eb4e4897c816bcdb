#include "core/engine/memory.h"

#include <algorithm>
#include <functional>

namespace kiai::engine {

Memory::Key::Key(const Decision& decision) : outcome(decision.outcome), reason(decision.reason), sound(decision.sound) {
    if (outcome == Outcome::ended) {
        constexpr Decibels inaudible = -60;
        silent = decision.level < inaudible;
        return;
    }
    trigger = decision.trigger;
    binding = decision.binding;
    on = decision.on;
    if (decision.action) action = to_string(*decision.action);
}

std::size_t Memory::Hash::operator()(const Key& key) const noexcept {
    std::uint64_t hash = 0;
    const auto add = [&](std::uint64_t value) { hash = (hash ^ value) * 0x9e3779b97f4a7c15u; };
    add(static_cast<std::uint64_t>(key.outcome) << 24 | static_cast<std::uint64_t>(key.trigger) << 16 |
        static_cast<std::uint64_t>(key.reason) << 8 | (key.silent ? 1u : 0u));
    add(static_cast<std::uint64_t>(key.binding));
    for (const std::string& text : {std::cref(key.on), std::cref(key.action), std::cref(key.sound)})
        add(std::hash<std::string>()(text));
    return static_cast<std::size_t>(hash);
}

void Memory::take(const Decision& decision) {
    Key key(decision);
    const auto found = last_.find(key);
    if (found != last_.end())
        found->second = {++taken_, decision};
    else if (last_.size() < most)
        last_.emplace(std::move(key), Last{++taken_, decision});
}

std::vector<Decision> Memory::all() const {
    std::vector<const Last*> in_order;
    for (const auto& [key, last] : last_) in_order.push_back(&last);
    std::sort(in_order.begin(), in_order.end(), [](const Last* a, const Last* b) { return a->place < b->place; });
    std::vector<Decision> decisions;
    for (const Last* last : in_order) decisions.push_back(last->decision);
    return decisions;
}

} // namespace kiai::engine
