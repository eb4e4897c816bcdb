#include "core/model/binding.h"

#include "core/model/number_text.h"

#include <algorithm>
#include <string>

namespace kiai::model {
namespace {

constexpr const char* comparisons[] = {"<", "<=", "=", "!=", ">=", ">"};

} // namespace

/// Compared as floats, because the app passes floats: 0.8f then equals the 0.8 of kiai.toml.
bool Clause::holds(double value_now, double margin) const noexcept {
    const auto now = static_cast<float>(value_now);
    const auto low = static_cast<float>(number - margin), high = static_cast<float>(number + margin);
    switch (is) {
    case Is::less:
        return now < high;
    case Is::at_most:
        return now <= high;
    case Is::equal:
        return now >= low && now <= high;
    case Is::not_equal:
        return now != low || low != high;
    case Is::at_least:
        return now >= low;
    case Is::more:
        return now > low;
    }
    return false;
}

std::string to_string(const Clause& clause) {
    return clause.name + ' ' + comparisons[static_cast<int>(clause.is)] + ' ' + general(clause.number);
}

ActionTaken taken(const Action& action) {
    ActionTaken taken{action.verb, action.target, action.name, 0};
    if (action.verb == Verb::set) taken.number = action.target == Target::dial ? action.to : action.gain;
    return taken;
}

std::string binding_title(const Binding& binding, std::size_t number) {
    if (binding.in_zone.empty()) return "binding " + std::to_string(number);
    return "zone \"" + binding.in_zone + "\", " + to_string(binding.trigger);
}

std::string trigger_text(const Binding& binding) {
    const std::string kind = to_string(binding.trigger);
    if (binding.name.empty() || binding.trigger == ReportKind::start) return kind;
    return kind + " " + binding.name + (binding.other.empty() ? "" : "+" + binding.other);
}

bool Action::same_as(const Action& other) const {
    return verb == other.verb && target == other.target && index == other.index && name == other.name &&
           gain == other.gain && pitch == other.pitch && to == other.to && over == other.over && fade == other.fade &&
           curve == other.curve && lasts == other.lasts;
}

bool Step::same_as(const Step& other) const {
    const auto same = [](const Step& a, const Step& b) { return a.same_as(b); };
    const auto same_part = [&](const std::vector<Step>& a, const std::vector<Step>& b) {
        return std::equal(a.begin(), a.end(), b.begin(), b.end(), same);
    };
    return kind == other.kind && action.same_as(other.action) && time == other.time && more == other.more &&
           count == other.count &&
           std::equal(parts.begin(), parts.end(), other.parts.begin(), other.parts.end(), same_part);
}

} // namespace kiai::model
