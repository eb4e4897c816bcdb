// `when` and `watch`: a name, a comparison, a number; several joined by `and`.
#include "files/project_reader.h"
#include "model/near.h"

#include <fmt/format.h>

#include <regex>

namespace kiai::files {
namespace {

using Is = model::Clause::Is;

constexpr const char* example =
    "write a name, one of < <= = != >= >, and a number: \"fill > 0.8\"; join several by and";

std::optional<model::Clause> parse_clause(const std::string& text) {
    static const std::regex form(R"(\s*([a-z0-9_-]+)\s*(<=|>=|!=|==|=|<|>)\s*([+-]?[0-9]+(?:\.[0-9]+)?)\s*)");
    static const std::map<std::string, Is> comparisons{{"<", Is::less},     {"<=", Is::at_most},   {"=", Is::equal},
                                                       {"==", Is::equal},   {"!=", Is::not_equal}, {">", Is::more},
                                                       {">=", Is::at_least}};
    std::smatch parts;
    if (text.size() > 200 || !std::regex_match(text, parts, form)) return std::nullopt;
    model::Clause clause;
    clause.name = parts[1];
    clause.is = comparisons.at(parts[2]);
    clause.number = std::stod(parts[3]);
    return clause;
}

/// What its name stands for: a dial, or a value of the trigger.
void resolve(Draft& draft, Entry& entry, const Value& at, bool values, model::Clause& clause) {
    if (const auto dial = draft.dials.find(clause.name); dial != draft.dials.end()) {
        clause.value = model::Value::dial;
        clause.dial = std::max(0, dial->second);
        return;
    }
    clause.value = clause.name == "strength" ? model::Value::strength
                   : clause.name == "place"  ? model::Value::place
                                             : model::Value::own;
    if (values && (clause.value != model::Value::own || good_name(clause.name))) return;
    std::vector<std::string> dials;
    for (const auto& [name, index] : draft.dials) dials.push_back(name);
    const std::string near = model::nearest(clause.name, dials);
    entry.fail(FindingCode::unknown_name, at.source, fmt::format("there is no dial \"{}\"", clause.name),
               near.empty() ? fmt::format("declare it: [dial.{}]", clause.name)
                            : fmt::format("did you mean \"{}\"? Names are compared exactly", near));
}

} // namespace

model::Condition read_condition(Draft& draft, Entry& entry, const char* key, bool values) {
    const auto text = entry.text(key);
    if (!text) return {};
    const Value& at = *entry.any(key);
    static const std::regex joint(R"(\s+and\s+)");
    model::Condition condition;
    for (std::sregex_token_iterator part(text->begin(), text->end(), joint, -1), end; part != end; ++part) {
        auto clause = parse_clause(*part);
        if (!clause) {
            entry.fail(FindingCode::bad_value, at.source,
                       fmt::format("`{} = \"{}\"`: \"{}\" is no condition", key, *text, part->str()), example);
            return {};
        }
        resolve(draft, entry, at, values, *clause);
        condition.push_back(std::move(*clause));
    }
    return condition;
}

} // namespace kiai::files
