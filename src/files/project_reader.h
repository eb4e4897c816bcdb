// Reads the sections of kiai.toml into the model. Each function adds what is sound and says what is not.
#pragma once

#include "files/entry.h"
#include "model/project.h"

#include <filesystem>
#include <map>
#include <string>
#include <vector>

namespace kiai::files {

/// What is known of a project while it is read.
struct Draft {
    std::filesystem::path folder;
    model::Project project;
    Findings findings;
    std::map<std::string, int> clips;  ///< by name; -1: registered, but left out for an error that was said
    std::map<std::string, int> sounds; ///< likewise
    std::map<std::string, int> zones;  ///< likewise
};

void read_clips(Draft& draft, const Value& section);
void read_sounds(Draft& draft, const Value& section);
void read_zones(Draft& draft, const Value& section);
void read_bindings(Draft& draft, const Value& section);

/// The index of `name` in `known`; else a finding that names the nearest, unless the name was left out with a finding
/// of its own. Empty where it cannot be used.
std::optional<int> look_up(Entry& entry, const Value& name, const std::map<std::string, int>& known,
                           const std::string& kind);

/// A name that is fit for an entry, or a finding.
bool check_name(Draft& draft, const Member& member, const std::string& kind);

/// A section's table, or a finding where it is something else.
bool is_table(Draft& draft, const Member& member, const std::string& kind);

} // namespace kiai::files
