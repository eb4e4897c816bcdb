// Reads `when` and `watch`: a name, a comparison, a number; several joined by `and`.
#include "core/model/fill.h"
#include "core/model/near.h"
#include "core/reader/project_reader.h"
#include "core/reader/scan.h"

#include <algorithm>
#include <iterator>
#include <optional>
#include <string_view>
#include <utility>
#include <vector>

namespace kiai::reader {
namespace {

using Is = model::Clause::Is;

constexpr std::size_t most_condition = 1000;

std::string_view trimmed(std::string_view text) {
    while (!text.empty() && is_blank(text.front())) text.remove_prefix(1);
    while (!text.empty() && is_blank(text.back())) text.remove_suffix(1);
    return text;
}

constexpr const char* condition_example =
    "write a name, one of < <= = != >= >, and a number: \"fill > 0.8\"; join several by and";

std::optional<model::Clause> parse_clause(std::string_view text) {
    constexpr std::pair<std::string_view, Is> comparisons[] = {
        {"<=", Is::at_most}, {">=", Is::at_least}, {"!=", Is::not_equal}, {"==", Is::equal},
        {"=", Is::equal},    {"<", Is::less},      {">", Is::more}};
    Scan scan(text);
    scan.blanks();
    model::Clause clause;
    clause.name = scan.while_([](char c) { return is_name(c) || is_letter(c); });
    scan.blanks();
    const auto* comparison = std::find_if(std::begin(comparisons), std::end(comparisons),
                                          [&](const auto& one) { return scan.take(one.first); });
    scan.blanks();
    const std::optional<double> number = scan.number(true);
    scan.blanks();
    if (clause.name.empty() || comparison == std::end(comparisons) || !number || !scan.done()) return std::nullopt;
    clause.is = comparison->second;
    clause.number = *number;
    return clause;
}

/// Splits a condition at the words `and`.
std::vector<std::string_view> clauses_of(std::string_view text) {
    std::vector<std::string_view> clauses;
    std::size_t from = 0;
    for (std::size_t at = 1; at + 4 < text.size(); ++at)
        if (is_blank(text[at - 1]) && text.substr(at, 3) == "and" && is_blank(text[at + 3])) {
            clauses.push_back(text.substr(from, at - from));
            from = at + 3;
        }
    clauses.push_back(text.substr(from));
    return clauses;
}

/// Finds what the name of a clause is: a dial, or a value of the trigger.
void resolve(Draft& draft, Entry& entry, const Value& at, bool values, model::Clause& clause) {
    if (const auto dial = draft.dials.find(clause.name); dial != draft.dials.end()) {
        clause.value = model::Value::dial;
        clause.dial = dial->second;
        if (clause.dial < 0) entry.leave_out();
        return;
    }
    clause.value = clause.name == "strength" ? model::Value::strength
                   : clause.name == "place"  ? model::Value::place
                                             : model::Value::own;
    if (values && (clause.value != model::Value::own || good_name(clause.name))) return;
    std::vector<std::string> dials;
    for (const auto& [name, index] : draft.dials) dials.push_back(name);
    const std::string near = model::nearest(clause.name, dials);
    entry.fail(FindingCode::unknown_name, at.source, model::fill("unknown dial \"{}\"", clause.name),
               near.empty() ? model::fill("declare it: [dial.{}]", clause.name)
                            : model::fill("did you mean \"{}\"? Names are compared exactly", near));
}

} // namespace

model::Condition read_condition(Draft& draft, Entry& entry, const char* key, bool values) {
    const auto text = entry.text(key);
    if (!text) return {};
    const Value& at = *entry.any(key);
    if (text->size() > most_condition) {
        entry.fail(FindingCode::bad_value, at.source,
                   model::fill("`{}` is longer than {} characters", key, most_condition),
                   "split it into several bindings");
        return {};
    }
    model::Condition condition;
    for (const std::string_view part : clauses_of(*text)) {
        auto clause = parse_clause(part);
        if (!clause) {
            entry.fail(FindingCode::bad_value, at.source,
                       model::fill("`{} = \"{}\"`: \"{}\" is not a condition", key, *text, trimmed(part)),
                       condition_example);
            return {};
        }
        resolve(draft, entry, at, values, *clause);
        condition.push_back(std::move(*clause));
    }
    return condition;
}

} // namespace kiai::reader
