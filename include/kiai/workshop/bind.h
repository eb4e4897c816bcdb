// Adding and removing bindings in kiai.toml, as words: `press lid play lid`.
#pragma once

#include <kiai/workshop/check.h>

#include <filesystem>
#include <string>
#include <utility>
#include <vector>

namespace kiai::inline v0 {

/// A binding as words. The words are a trigger, its names, an action and its target, each as in kiai.toml:
/// `press lid play lid`, `contact marble oak play oak`, `start play hum`, `notice finish stop bus pieces`,
/// `notice tray-emptied set fill 0`.
struct BindingWords {
    std::vector<std::string> words;
    /// Other keys of the binding, its trigger and its action, with their values: `when`, `fill > 0.8`. Numbers are in
    /// the key's unit, times have a unit, and an empty value of a key that is true or false means true.
    std::vector<std::pair<std::string, std::string>> settings = {};
};

struct BindOptions {
    bool dry_run = false; ///< returns the changes, and writes nothing
};

/// Adds a binding. A trigger of the pointer is written inside its zone (`press = "lid"`) if the zone has no such key
/// yet and the settings belong to the action; every other binding becomes a `[[binding]]` at the end. If the project
/// has the same binding, nothing is changed and a remark names it. Refused, with a finding, and nothing is changed: the
/// words are no binding, a name is unknown, or a value is invalid. Writes as `rename_entry` does. [control]
EditResult bind(const std::filesystem::path& folder, const BindingWords& words, const BindOptions& options = {});

/// Removes the bindings of a trigger, in both forms; if an action is named, only that action. One word that is a number
/// means the binding with this number in the log.
/// Refused, with a finding, if there is none. Writes as `rename_entry` does. [control]
EditResult unbind(const std::filesystem::path& folder, const std::vector<std::string>& words,
                  const BindOptions& options = {});

} // namespace kiai::inline v0
