// Lists and searches the entries of a project, and shows one in detail.
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
    std::string name; ///< name; of a binding, its trigger
    /// `used`, `unused`, `unbound` (a sound or zone without a binding), `variant` (of a sound), `pending`, `left-out`
    /// (disabled by an error), `unknown` (named, but not registered); with a log also `never-fired` (a binding)
    std::string state;
    std::string folder;                                  ///< of a clip's file, relative to the project
    int line = 0;                                        ///< in kiai.toml
    std::vector<std::pair<std::string, Detail>> details; ///< further columns, in order
};

/// Selects entries; an empty member selects all.
struct CatalogueFilter {
    std::string kind = {};
    std::string word = {};   ///< in the name or a text of the details, in any letter case
    std::string folder = {}; ///< folder of a clip's file, or one above it
    std::string state = {};
    std::optional<std::set<int>> fired = {}; ///< numbers of the bindings that fired, see `bindings_in_log`
};

struct Catalogue {
    std::string project;
    std::vector<CatalogueEntry> entries; ///< by kind, within it as in kiai.toml
    std::vector<Finding> findings;       ///< of reading the project
};

/// Reads a project. Decodes only files that are new or changed. [control] Does I/O.
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
    std::string author, licence, source, note; ///< those of the folder if the clip has none
    std::vector<std::string> users;            ///< sounds and bindings that use the clip, one line each
    Facts facts;
    std::vector<Column> columns; ///< of equal length, from the first frame to the last
};

struct EntryDetails {
    std::string kind; ///< `clip`, `sound`, `file`; empty: unknown name
    std::string name;
    std::vector<std::string> users;
    std::vector<ClipDetails> clips; ///< of a sound: all takes of all layers, in order
    std::vector<Finding> findings;  ///< of reading the project, or why there is nothing to show
};

/// Returns the details of a clip, of the takes of a sound, or of any audio file. `columns`: of each waveform, 1 …
/// 10,000. [control] Decodes the files.
EntryDetails show_entry(const std::filesystem::path& folder, const std::string& name, int columns);

} // namespace kiai::inline v0
