// Every key of kiai.toml: what it takes, and what it is for. The reader, its messages, the reference page and the JSON
// schema are all made from this one table.
#pragma once

#include <string>
#include <vector>

namespace kiai::inline v0 {

/// What a key takes.
enum class Takes {
    text = 0,
    truth = 1,   ///< true or false
    number = 2,  ///< in the key's unit; of dB also a text with its unit, or in per cent; of parts of 1 also in per cent
    whole = 3,   ///< a number without a fraction
    time = 4,    ///< a text with its unit: `"12 ms"`, `"0.5 s"`, `"480 frames"`
    word = 5,    ///< one of a few
    spread = 6,  ///< one number (plus or minus), or a pair (from, to)
    timing = 7,  ///< a time, or a pair: the shortest and the longest of a random one
    times = 8,   ///< one time (from nothing up to it), or a pair (from, to)
    names = 9,   ///< takes: a list of names or tables, or a series
    points = 10, ///< a list of pairs of numbers
    pair = 11,   ///< two names, or two numbers
    table = 12,  ///< a table, `of` says which
    entries = 13, ///< such tables, by names
    tables = 14,  ///< a list of tables
    loop = 15,    ///< true, or a table
    actions = 16, ///< a table, or a list of them
    lists = 17,   ///< a list of lists of tables
    places = 18,  ///< names, each with a number or a list of them
    target = 19,  ///< a name, or a table
};

/// One key. Plain values that live as long as the program; any thread.
struct Key {
    const char* name;
    const char* parent; ///< the section that it is in: `sound`, `layer`, `vary` …
    Takes takes;
    double low, high;          ///< of numbers and times (in seconds); of both 0: any
    const char* unit;          ///< `dB`, `semitones`, `Hz`, `parts of 1`, …; empty: none
    const char* default_value; ///< used if the key is missing; `needed` if it must not be; empty: none
    const char* description;
    const char* choices; ///< of a word: those allowed, separated by bars
    const char* section; ///< of a table: the section that holds its keys
};

/// All of them, section by section. [any]
const std::vector<Key>& project_keys();
/// What a section is called in kiai.toml: `[sound.NAME]`; empty for tables within others.
const char* section_heading(const std::string& section) noexcept;

} // namespace kiai::inline v0

#ifdef KIAI_SILENT
#include <kiai/silent/keys.h>
#endif
