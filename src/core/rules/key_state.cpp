#include "core/rules/key_state.h"

#include <algorithm>
#include <utility>

namespace kiai::rules {

void KeyState::down(const Event& event) noexcept {
    const auto key = std::find_if(down_.begin(), down_.end(), [&](const Down& one) { return one.name == event.name; });
    Event down = event;
    down.holder = holder_of(ReportKind::key_down, event.name);
    if (key == down_.end()) {
        if (down_.size() == most_down) return state_.say(Outcome::no_room, event);
        down_.push_back({event.name, false, {}});
        down_.back().repeats.begin(state_.now);
        hub_.happen(down);
        return;
    }
    const auto bound = state_.bindings.find(ReportKind::key_down, event.name);
    down.repeated = true;
    if (std::any_of(bound.begin(), bound.end(), [](const Bound& one) { return one.repeats; })) {
        hub_.happen(down);
        return;
    }
    if (!std::exchange(key->said, true)) state_.say(Outcome::same_state, event);
    if (key->repeats.again(state_.now, state_.plan.rate())) state_.say(Outcome::unended, event);
}

void KeyState::up(model::NameId name, bool lost) noexcept {
    if (std::erase_if(down_, [&](const Down& one) { return one.name == name; }) == 0) return;
    Event up;
    up.kind = ReportKind::key_up;
    up.name = name;
    up.quiet = true; // its key-down was answered
    up.lost = lost;
    hub_.over(holder_of(ReportKind::key_down, name), up, hub_.happen(up));
}

} // namespace kiai::rules
