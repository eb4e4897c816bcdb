#include "workshop/page/feed.h"

#include "workshop/page/describe.h"
#include "workshop/rehearse/log_line.h"

#include <algorithm>
#include <chrono>

namespace kiai::workshop {

void Feed::add(const Decision& decision) {
    {
        const std::lock_guard guard(mutex_);
        if (kept_.size() == most_kept) kept_.pop_front();
        kept_.push_back(decision);
        ++count_;
        if (decision.outcome == Outcome::ducked) ducked_[decision.bus] = {decision.under, Decibels(decision.value)};
        if (decision.outcome == Outcome::duck_over) ducked_.erase(decision.bus);
        if (decision.outcome == Outcome::changed) ducked_.clear(); // a removed duck ends without a decision
    }
    came_.notify_all();
}

void Feed::add_levels(const std::vector<LevelPoint>& points) {
    constexpr std::size_t most_levels = 8192;
    const std::lock_guard guard(mutex_);
    for (const LevelPoint& point : points) {
        if (levels_.size() == most_levels) levels_.pop_front();
        levels_.push_back(point);
    }
    level_count_ += points.size();
}

std::vector<LevelPoint> Feed::take_levels(std::uint64_t& next) const {
    const std::lock_guard guard(mutex_);
    const std::uint64_t oldest = level_count_ - levels_.size();
    const std::uint64_t from = std::max(next, oldest);
    next = level_count_;
    return {levels_.begin() + static_cast<std::ptrdiff_t>(from - oldest), levels_.end()};
}

void Feed::close() {
    {
        const std::lock_guard guard(mutex_);
        closed_ = true;
    }
    came_.notify_all();
}

std::uint64_t Feed::beginning() const {
    const std::lock_guard guard(mutex_);
    return count_ - std::min<std::uint64_t>(kept_.size(), most_at_first);
}

std::uint64_t Feed::beginning_of_levels() const {
    const std::lock_guard guard(mutex_);
    return level_count_;
}

Feed::Part Feed::take(std::uint64_t& next, std::size_t most) const {
    Part part;
    std::vector<Decision> newest;
    {
        const std::lock_guard guard(mutex_);
        const std::uint64_t oldest = count_ - kept_.size();
        const std::uint64_t from = std::max({next, oldest, count_ - std::min<std::uint64_t>(count_, most)});
        part.left_out = from - next;
        newest.assign(kept_.begin() + static_cast<std::ptrdiff_t>(from - oldest), kept_.end());
        next = count_;
    }
    for (const Decision& decision : newest) {
        std::string line = log_line(decision, rate_);
        line.insert(1, "\"text\":" + quoted(describe(decision)) + ","); // the log has no words for people
        part.lines.push_back(std::move(line));
    }
    return part;
}

bool Feed::wait(std::uint64_t next, int milliseconds) const {
    std::unique_lock lock(mutex_);
    came_.wait_for(lock, std::chrono::milliseconds(milliseconds), [&] { return closed_ || count_ > next; });
    return !closed_;
}

std::map<std::string, DuckedBus> Feed::ducked() const {
    const std::lock_guard guard(mutex_);
    return ducked_;
}

std::vector<Decision> Feed::decisions() const {
    const std::lock_guard guard(mutex_);
    return {kept_.begin(), kept_.end()};
}

} // namespace kiai::workshop
