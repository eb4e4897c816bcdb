#include "core/model/number_text.h"

#include <kiai/workshop/trigger.h>

#include <algorithm>
#include <charconv>
#include <sstream>

namespace kiai::inline v0 {
namespace {

/// Finds the kind among those that bindings wait for and those that an app reports itself.
std::optional<ReportKind> kind_of(const std::string& word) {
    for (int kind = 0; kind <= static_cast<int>(ReportKind::last); ++kind)
        if (word == to_string(static_cast<ReportKind>(kind))) return static_cast<ReportKind>(kind);
    return std::nullopt;
}

bool number(const std::string& word, float& value) {
    const auto read = std::from_chars(word.data(), word.data() + word.size(), value);
    return read.ec == std::errc() && read.ptr == word.data() + word.size();
}

/// Returns `oak+marble` for `marble+oak`.
std::string other_way(const std::string& on) {
    const std::size_t plus = on.find('+');
    return plus == std::string::npos ? on : on.substr(plus + 1) + '+' + on.substr(0, plus);
}

} // namespace

std::optional<Trigger> read_trigger(std::string_view text) {
    std::istringstream words{std::string(text)};
    std::string word;
    words >> word;
    const auto kind = kind_of(word);
    if (!kind) return std::nullopt;
    std::vector<std::string> rest;
    while (words >> word) rest.push_back(word);
    Trigger trigger{*kind, {}, {}};
    Point point;
    const bool pointed = *kind == ReportKind::press || *kind == ReportKind::enter;
    if (pointed && rest.size() == 2 && number(rest[0], point.x) && number(rest[1], point.y)) {
        trigger.point = point;
        return trigger;
    }
    const bool two = *kind == ReportKind::contact || *kind == ReportKind::contact_end || *kind == ReportKind::marker;
    for (const std::string& part : rest) trigger.on += (trigger.on.empty() ? "" : two ? "+" : " ") + part;
    return trigger;
}

std::string to_string(const Trigger& trigger) {
    std::string text = to_string(trigger.kind);
    if (!trigger.point) return trigger.on.empty() ? text : text + ' ' + trigger.on;
    return text + ' ' + model::general(trigger.point->x) + ' ' + model::general(trigger.point->y);
}

bool matches(const Trigger& trigger, const Decision& decision) {
    if (decision.cause == 0 || decision.trigger != trigger.kind || trigger.point) return false;
    if (trigger.on.empty() || trigger.on == decision.on) return true;
    return trigger.kind != ReportKind::marker && other_way(trigger.on) == decision.on;
}

} // namespace kiai::inline v0
