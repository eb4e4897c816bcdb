// Registers audio files.
#include <kiai/workshop/add.h>

#include "workshop/edit/editing.h"
#include "workshop/edit/import.h"

#include <fmt/format.h>

#include <algorithm>

namespace kiai::inline v0 {

namespace fs = std::filesystem;

int AddResult::count(AddedFile::Outcome outcome) const noexcept {
    return static_cast<int>(
        std::count_if(files.begin(), files.end(), [&](const AddedFile& file) { return file.outcome == outcome; }));
}

AddResult add_files(const fs::path& folder, const std::vector<fs::path>& what, const AddOptions& options) {
    AddResult added;
    workshop::Expanded expanded = workshop::expand(what);
    added.others = expanded.others;
    std::vector<fs::path> copied;
    const auto change = [&](workshop::Document& toml, EditResult& edited) {
        if (!options.name.empty() && expanded.files.size() > 1)
            return workshop::refuse(edited, folder, FindingCode::bad_value, {},
                                    fmt::format("--name was given for {} files", expanded.files.size()),
                                    "name one file");
        copied = workshop::import_files(folder, std::move(expanded.files), options, toml, added);
    };
    const EditResult edited =
        options.dry_run ? workshop::try_edit(folder, change) : workshop::edit_project(folder, change);
    added.findings = edited.findings;
    if (edited.ok()) return added;
    std::error_code error;
    for (const fs::path& copy : copied) fs::remove(copy, error);
    for (AddedFile& file : added.files)
        if (file.outcome == AddedFile::Outcome::added)
            file.outcome = AddedFile::Outcome::refused, file.why = "kiai.toml could not be changed";
    added.series.clear();
    return added;
}

} // namespace kiai::inline v0
