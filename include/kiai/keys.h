// Every key of kiai.toml, with its type, range, default and description. The reader, the reference page and the JSON
// schema use this table.
#pragma once

#include <string>
#include <vector>

namespace kiai::inline v0 {

/// The type of a key's value.
enum class Takes {
    text = 0,
    truth = 1,    ///< true or false
    number = 2,   ///< in the key's unit; dB also as a text with its unit or in per cent; parts of 1 also in per cent
    whole = 3,    ///< a number without a fraction
    time = 4,     ///< a text with its unit: `"12 ms"`, `"0.5 s"`, `"480 frames"`
    word = 5,     ///< one of a few
    spread = 6,   ///< one number (plus or minus), or a pair: minimum and maximum
    timing = 7,   ///< a time, or a pair for a random time: minimum and maximum
    times = 8,    ///< one time (from 0 to it), or a pair: minimum and maximum
    names = 9,    ///< takes: a list of names or tables, or a series
    points = 10,  ///< a list of pairs of numbers
    pair = 11,    ///< two names, or two numbers
    table = 12,   ///< a table; `section` names its keys
    entries = 13, ///< tables by name
    tables = 14,  ///< a list of tables
    loop = 15,    ///< true, or a table
    actions = 16, ///< a table, or a list of them
    lists = 17,   ///< a list of lists of tables
    places = 18,  ///< names, each with a number or a list of numbers
    target = 19,  ///< a name, or a table
};

/// One key. Plain values that live as long as the program. [any]
struct Key {
    const char* name;
    const char* parent; ///< the section of the key: `sound`, `layer`, `vary` …
    Takes takes;
    double low, high;          ///< range of numbers, and of times in seconds; both 0: any
    const char* unit;          ///< `dB`, `semitones`, `Hz`, `parts of 1`, …; empty: none
    const char* default_value; ///< empty: none; `needed`: the key is required
    const char* description;
    const char* choices; ///< of a word: the allowed words, separated by bars
    const char* section; ///< of a table: the section of its keys
};

/// Returns all keys, by section. [any]
const std::vector<Key>& project_keys();
/// Returns the heading of a section in kiai.toml: `[sound.NAME]`; empty for a table within another.
const char* section_heading(const std::string& section) noexcept;

} // namespace kiai::inline v0

#ifdef KIAI_SILENT
#include <kiai/silent/keys.h>
#endif
