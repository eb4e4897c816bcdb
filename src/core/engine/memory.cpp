#include "core/engine/memory.h"

#include <algorithm>

namespace kiai::engine {

void Memory::take(const Decision& decision) {
    constexpr Decibels silent = -60;
    const bool ended = decision.outcome == Outcome::ended;
    // Of ends what counts is the sound, how it ended and whether it was heard; not by what it began.
    Key key{
        static_cast<int>(decision.outcome),  ended ? 0 : static_cast<int>(decision.trigger),
        ended ? std::string() : decision.on, ended || !decision.action ? std::string() : to_string(*decision.action),
        ended ? 0 : decision.binding,        decision.sound,
        static_cast<int>(decision.reason),   ended && decision.level < silent};
    const auto found = last_.find(key);
    if (found != last_.end())
        found->second = decision;
    else if (last_.size() < most)
        last_.emplace(std::move(key), decision);
}

std::vector<Decision> Memory::all() const {
    std::vector<Decision> decisions;
    for (const auto& [key, decision] : last_) decisions.push_back(decision);
    std::stable_sort(decisions.begin(), decisions.end(),
                     [](const Decision& a, const Decision& b) { return a.frame < b.frame; });
    return decisions;
}

} // namespace kiai::engine
