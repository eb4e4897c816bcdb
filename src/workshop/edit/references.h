// Finds the references to entries in a kiai.toml.
#pragma once

#include "core/reader/value.h"
#include "workshop/edit/outline.h"

#include <kiai/workshop/edit.h>

#include <string>
#include <vector>

namespace kiai::workshop {

struct Reference {
    EntryKind kind = EntryKind::clip; ///< what it names; `any`: a sound, or else a clip
    std::string name;
    Place place;  ///< of the text that names it
    Place holder; ///< what is taken out with it: the text itself, or its action; empty: it cannot do without
    model::Source source;
    std::string what; ///< `sound "oak" takes it`
    bool in_condition() const noexcept { return text != name; }
    std::string text; ///< the whole text at that place: the name, or the condition that contains it
};

/// Returns that text with another name in it.
std::string renamed(const Reference& reference, const std::string& name);

/// Returns everything that the file names.
std::vector<Reference> all_references(const reader::Value& root);

/// Returns the references to this entry. If a sound has the same name as a clip, only takes name the clip.
std::vector<Reference> references(const reader::Value& root, EntryKind kind, const std::string& name);

/// Returns the sounds whose series a clip of this name belongs to.
std::vector<std::string> sounds_by_series(const reader::Value& root, const std::string& clip);

} // namespace kiai::workshop
