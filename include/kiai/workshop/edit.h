// Changing a project's kiai.toml in place: comments, order and layout stay, every reference follows.
#pragma once

#include <kiai/workshop/check.h>

#include <filesystem>
#include <string>
#include <vector>

namespace kiai::inline v0 {

/// The kind of an entry, for a name that several kinds have.
enum class EntryKind { any, clip, sound, zone, bus, dial, scope, motion, sequence };

struct RenameOptions {
    EntryKind kind = EntryKind::any;
    bool dry_run = false; ///< returns the changes, and writes nothing
};

/// Renames an entry and every reference to it: takes, actions, triggers, conditions.
/// Refused, with a finding, and nothing is changed: the entry is missing; several kinds have the name and `kind` does
/// not say which; the new name is invalid or taken, also if a clip and a sound would share it; kiai.toml is not valid
/// TOML or cannot be written. The file is written whole or not at all. If another command is editing the file, waits
/// for it. [control]
EditResult rename_entry(const std::filesystem::path& folder, const std::string& name, const std::string& new_name,
                        const RenameOptions& options = {});

struct RemoveOptions {
    EntryKind kind = EntryKind::any;
    bool delete_file = false; ///< deletes a clip's audio file too, if no other clip names it
    bool dry_run = false;     ///< returns the changes, and writes and deletes nothing
};

/// Removes an entry, and its name from lists of takes and of actions that have other members.
/// Refused, with a finding each, if something needs the entry: a layer with no other take, a binding with no other
/// action or with that zone. Refused for the other reasons of `rename_entry` too. [control]
EditResult remove_entry(const std::filesystem::path& folder, const std::string& name,
                        const RemoveOptions& options = {});

/// Sets one value of kiai.toml, and adds its key, table or entry if it is missing. `place`: the keys from the top, with
/// numbers from 1 for items of lists: `{"sound", "oak", "vary", "pitch"}`, `{"sound", "hopper", "layer", "2", "gain"}`.
/// The number after the last one of a list adds an item.
/// `value`: as kiai.toml would have it (`-6`, `"12 ms"` with its quotes, `{ x = 1, y = 2, r = 3 }`), on one line; empty
/// removes the key.
/// Refused, with a finding, and nothing is changed: the value is not valid, or the project has an error with it that it
/// did not have before. Writes as `rename_entry` does. [control]
EditResult set_value(const std::filesystem::path& folder, const std::vector<std::string>& place,
                     const std::string& value, bool dry_run = false);

} // namespace kiai::inline v0
