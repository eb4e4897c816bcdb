// What a project holds, to be listed and searched; and one entry looked at closely.
#pragma once

#include <kiai/facts.h>
#include <kiai/finding.h>

#include <cstdint>
#include <filesystem>
#include <optional>
#include <set>
#include <string>
#include <utility>
#include <variant>
#include <vector>

namespace kiai::inline v0 {

struct CatalogueEntry {
    using Detail = std::variant<std::string, double, std::int64_t, bool>;
    std::string kind; ///< `clip`, `sound`, `binding`, `zone`, `bus`, `dial`, `scope`, `motion`, `sequence`, `notice`
    std::string name; ///< of a binding: its trigger
    /// `used`; `unused` (a clip), `unbound` (a sound, a zone), `unused` (others), `variant` (of a sound), `pending`
    /// (declared so); `left-out` (an error in kiai.toml), `unknown` (named, but not registered); with a log also
    /// `never-fired` (a binding)
    std::string state;
    std::string folder; ///< of a clip's file, relative to the project
    int line = 0;       ///< in kiai.toml
    std::vector<std::pair<std::string, Detail>>
        details; ///< what else there is to say, in the order of a table's columns
};

/// What of the catalogue is wanted; empty: all.
struct CatalogueFilter {
    std::string kind = {};
    std::string word = {};   ///< occurs in the name or in a detail that is a text, in any case of letters
    std::string folder = {}; ///< a clip's file lies in it or below it
    std::string state = {};
    std::optional<std::set<int>> fired = {}; ///< numbers of the bindings that fired, see `bindings_in_log`
};

struct Catalogue {
    std::string project;
    std::vector<CatalogueEntry> entries; ///< by kind, within it as in kiai.toml
    std::vector<Finding> findings;       ///< of reading the project
};

/// Reads a project, without decoding what is known already. [control] Does I/O.
Catalogue catalogue(const std::filesystem::path& folder, const CatalogueFilter& filter = {});

/// One column of a waveform.
struct Column {
    Decibels peak = Facts::silent; ///< of both channels, dBFS
    bool clipped = false;
};

struct ClipDetails {
    std::string name; ///< empty for a file that is not registered
    std::string file; ///< relative to the project, or as it was given
    Decibels gain = 0;
    std::string author, licence, source, note; ///< the folder's where the clip has none of its own
    std::vector<std::string> users;            ///< one line each: which sound takes it, which binding plays it
    Facts facts;
    std::vector<Column> columns; ///< equal stretches of time from the first frame to the last
};

struct EntryDetails {
    std::string kind; ///< `clip`, `sound`, `file`; empty: nothing of that name
    std::string name;
    std::vector<std::string> users;
    std::vector<ClipDetails> clips; ///< of a sound: all takes of all layers, in order
    std::vector<Finding> findings;  ///< why there is nothing to show; or of reading the project
};

/// Looks at a clip, at the takes of a sound, or at an audio file that need not be registered. `columns`: of each
/// waveform, 1 … 10,000. [control] Decodes what is shown.
EntryDetails show_entry(const std::filesystem::path& folder, const std::string& name, int columns);

} // namespace kiai::inline v0
