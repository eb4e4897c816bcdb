#include "runtime/project/parse_toml.h"
#include "workshop/edit/editing.h"

#include <kiai/workshop/edit.h>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <charconv>
#include <set>

namespace kiai::inline v0 {
namespace {

using workshop::Document;
using workshop::Place;

/// Turns numbers into indices where the value is a list.
Place place_in(const reader::Value& root, const std::vector<std::string>& keys) {
    Place place;
    const reader::Value* value = &root;
    for (const std::string& key : keys) {
        std::size_t number = 0;
        const bool item = value && value->kind == reader::Value::Kind::list &&
                          std::from_chars(key.data(), key.data() + key.size(), number).ec == std::errc{} && number > 0;
        if (item)
            place.emplace_back(number - 1);
        else
            place.emplace_back(key);
        if (!value) continue;
        value = !item ? value->find(key) : number - 1 < value->items.size() ? &value->items[number - 1] : nullptr;
    }
    return place;
}

/// Returns the number of keys that are there already.
std::size_t present(const reader::Value& root, const Place& place) {
    std::size_t depth = 0;
    for (const reader::Value* value = &root; depth < place.size(); ++depth) {
        const auto* index = std::get_if<std::size_t>(&place[depth]);
        value = index ? (*index < value->items.size() ? &value->items[*index] : nullptr)
                      : value->find(std::get<std::string>(place[depth]));
        if (!value) break;
    }
    return depth;
}

void put(Document& toml, const Place& place, const std::string& value, const reader::Value& root) {
    const std::size_t depth = present(root, place);
    if (depth == place.size()) return value.empty() ? toml.remove(place) : toml.set_value(place, value);
    if (value.empty()) return;
    if (place.back().index() == 1) return toml.add_item({place.begin(), place.end() - 1}, value);
    // An entry gets a section of its own, a table within an entry is written on one line.
    const std::size_t table = std::clamp<std::size_t>(2, depth, place.size() - 1);
    std::string text = value;
    for (std::size_t i = place.size() - 1; i > table; --i)
        text = fmt::format("{{ {} = {} }}", std::get<std::string>(place[i]), text);
    toml.add({place.begin(), place.begin() + static_cast<std::ptrdiff_t>(table)},
             {{std::get<std::string>(place[table]), text}});
}

/// An error without its line, which an edit may move.
using Known = std::multiset<std::pair<std::string, std::string>>;

Known errors_of(const std::filesystem::path& folder, const reader::Value& root, std::vector<Finding>& all) {
    Known known;
    all = workshop::read_entries(folder, root).findings;
    std::erase_if(all, [](const Finding& finding) { return finding.severity != Severity::error; });
    for (const Finding& finding : all) known.emplace(finding.entry, finding.message);
    return known;
}

} // namespace

EditResult set_value(const std::filesystem::path& folder, const std::vector<std::string>& keys,
                     const std::string& value, bool dry_run) {
    const auto change = [&](Document& toml, EditResult& edited) {
        const auto refuse = [&](const std::string& message, const std::string& fix) {
            workshop::refuse(edited, folder, FindingCode::bad_value, {}, message, fix);
        };
        const std::string name = fmt::format("{}", fmt::join(keys, "."));
        if (keys.size() < 2)
            return refuse(fmt::format("\"{}\" is not a key of an entry", name),
                          "name an entry and a key, such as sound.oak.gain");
        const auto parsed = runtime::parse_toml("k = " + (value.empty() ? "0" : value));
        const auto* made = std::get_if<reader::Value>(&parsed);
        if (!made || made->members.size() != 1 || value.find_first_of("\r\n#") != std::string::npos)
            return refuse(fmt::format("{}: {} is not a value", name, value),
                          "write a number, a text in quotes, a list or a table");
        const Place place = place_in(toml.root(), keys);
        if (const std::size_t depth = present(toml.root(), place); depth < place.size() && place[depth].index() == 1) {
            const Place list(place.begin(), place.begin() + static_cast<std::ptrdiff_t>(depth));
            reader::Value root = toml.root();
            const std::size_t items = workshop::value_at(root, list)->items.size();
            if (depth + 1 < place.size() || std::get<std::size_t>(place[depth]) != items || value.empty())
                return refuse(fmt::format("{}: the list has {} item{}", name, items, items == 1 ? "" : "s"),
                              fmt::format("use a number up to {}; a new item is one value", items + 1));
        }
        std::vector<Finding> before, after;
        const Known known = errors_of(folder, toml.root(), before);
        put(toml, place, value, toml.root());
        for (const auto& error : errors_of(folder, toml.root(), after)) {
            if (known.contains(error)) continue;
            const auto found = std::find_if(after.begin(), after.end(), [&](const Finding& finding) {
                return finding.entry == error.first && finding.message == error.second;
            });
            edited.findings.push_back(*found);
        }
    };
    return dry_run ? workshop::try_edit(folder, change) : workshop::edit_project(folder, change);
}

} // namespace kiai::inline v0
