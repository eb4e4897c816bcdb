#include "workshop/edit/editing.h"

#include <kiai/workshop/check.h>

#include <algorithm>

namespace kiai::inline v0 {
namespace {

using namespace workshop;

/// Finds the text at a line and column.
bool find_text(const reader::Value& value, const Finding& finding, Place& place) {
    if (value.kind == reader::Value::Kind::text && value.source.line == finding.line &&
        value.source.column == finding.column)
        return true;
    for (const reader::Member& member : value.members) {
        place.emplace_back(member.key);
        if (find_text(member.value, finding, place)) return true;
        place.pop_back();
    }
    for (std::size_t i = 0; i < value.items.size(); ++i) {
        place.emplace_back(i);
        if (find_text(value.items[i], finding, place)) return true;
        place.pop_back();
    }
    return false;
}

/// Finds the entry whose key is at a line and column.
bool find_key(const reader::Value& value, const Finding& finding, Place& place) {
    for (const reader::Member& member : value.members) {
        place.emplace_back(member.key);
        if (member.source.line == finding.line && member.source.column == finding.column) return true;
        if (find_key(member.value, finding, place)) return true;
        place.pop_back();
    }
    for (std::size_t i = 0; i < value.items.size(); ++i) {
        place.emplace_back(i);
        if (find_key(value.items[i], finding, place)) return true;
        place.pop_back();
    }
    return false;
}

} // namespace

EditResult fix_project(const std::filesystem::path& folder, const CheckOptions& options) {
    const auto edit = options.dry_run ? try_edit : edit_project;
    return edit(folder, [&](Document& toml, EditResult& edited) {
        // Checked under the lock, so that the positions match the edited file.
        for (const Finding& finding : check_project(folder, options).findings) {
            if (finding.replacement.empty()) continue;
            if (Place place; find_text(toml.root(), finding, place)) toml.set_text(place, finding.replacement);
            if (Place place; find_key(toml.root(), finding, place)) toml.rename(place, finding.replacement);
        }
        static_cast<void>(edited);
    });
}

} // namespace kiai::inline v0
