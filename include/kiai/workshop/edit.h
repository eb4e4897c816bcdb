// Changing a project's kiai.toml in place: comments, order and layout stay, every reference follows.
#pragma once

#include <kiai/workshop/check.h>

#include <filesystem>
#include <string>

namespace kiai::inline v0 {

/// Which entry is meant, where several kinds have one of the same name.
enum class EntryKind { any, clip, sound, zone, bus, dial, scope, motion, sequence };

/// Gives an entry another name; takes, actions, triggers, conditions and all else that names it follow. Refused
/// (`Edited::findings`, nothing changed): no such entry, several kinds have it and `kind` does not say which, the new
/// name is unfit or taken (a clip and a sound may not come to share one by this), kiai.toml is not valid TOML or cannot
/// be written. The file is written whole or not at all, and another command that edits it at the same time is waited
/// for. [control]
EditResult rename_entry(const std::filesystem::path& folder, const std::string& name, const std::string& new_name,
                        EntryKind kind = EntryKind::any);

struct RemoveOptions {
    EntryKind kind = EntryKind::any;
    bool delete_file = false; ///< a clip's audio file too, where no other clip names it
};

/// Takes an entry out, and its name out of lists of takes and of actions that hold others. Refused, with one finding
/// for each, where something cannot go on without it: a layer whose only take it is, a binding whose only action plays
/// it or whose zone it is. Otherwise as `rename_entry`. [control]
EditResult remove_entry(const std::filesystem::path& folder, const std::string& name,
                        const RemoveOptions& options = {});

} // namespace kiai::inline v0
