// Reads a binding that is written as words: `press lid play lid`.
#pragma once

#include "core/reader/value.h"

#include <kiai/workshop/bind.h>

#include <string>
#include <vector>

namespace kiai::workshop {

/// A binding in the keys of kiai.toml.
struct WordedBinding {
    std::string problem, fix;       ///< why the words are no binding; empty: they are
    std::string trigger;            ///< `press`
    std::vector<std::string> names; ///< of the trigger: `lid`
    std::string verb;               ///< `play`; empty: only a trigger was given
    std::string trigger_value;      ///< the trigger's value as TOML: `"lid"`
    std::string action_value;       ///< the verb's value as TOML: `"lid"`
    std::string to;                 ///< of `set fill 0`: `0`
    std::vector<std::pair<std::string, std::string>> of_trigger, of_action, of_binding; ///< keys and values as TOML
};

/// Reads words and settings by the table of keys. `whole`: the words must name an action too. [any]
WordedBinding read_words(const BindingWords& words, bool whole);

/// Returns `{ press = "lid" }`, with the settings.
std::string trigger_table(const WordedBinding& binding);
/// Returns `{ play = "lid" }`, with the settings.
std::string action_table(const WordedBinding& binding);

} // namespace kiai::workshop
