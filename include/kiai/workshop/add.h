// Registers audio files in a project, and makes a new project.
#pragma once

#include <kiai/finding.h>
#include <kiai/load.h>

#include <filesystem>
#include <string>
#include <vector>

namespace kiai::inline v0 {

struct AddOptions {
    std::string name = {};                ///< name of the clip, for one file; empty: made from the file's name
    std::filesystem::path into = "clips"; ///< folder of the project that receives the copies
    bool in_place = false;                ///< registers the file at its present path, without a copy
    bool make_sounds = true;              ///< makes a sound of a numbered series
    bool dry_run = false;                 ///< returns the result, and writes nothing
    std::string author = {}, licence = {}, source = {}, note = {}; ///< credits of each clip; empty: none
    Progress progress = {};                                        ///< files read and measured
};

struct AddedFile {
    enum class Outcome { added, known, refused };
    std::filesystem::path file; ///< as it was given
    Outcome outcome = Outcome::refused;
    std::string name;   ///< the clip's
    std::string path;   ///< of the registered file, relative to the project
    std::string why;    ///< a remark, or why the file was refused
    std::string fix;    ///< what to do about it, if it was refused
    double seconds = 0; ///< length; 0 if the file could not be read
};

struct AddedSeries {
    std::string name;         ///< of the series: `oak` of `oak-1`, `oak-2` …
    int takes = 0;            ///< number of clips
    std::vector<int> missing; ///< missing numbers between the first and the last
    bool made_sound = false;  ///< [sound.NAME] was written; false if a sound uses the series already
};

struct AddResult {
    std::vector<AddedFile> files;
    std::vector<AddedSeries> series;  ///< that received a file
    std::size_t others = 0;           ///< number of other files in the folders, which were ignored
    std::vector<std::string> remarks; ///< remarks, one line each
    std::vector<Finding> findings;    ///< about the project; with an error nothing was added
    int count(AddedFile::Outcome outcome) const noexcept;
};

/// Registers files, all audio files of folders, or patterns with `*` and `?`. Returns the result for each file.
/// Names are made from file names: letters lose their marks and become lower case, other characters than a-z 0-9 become
/// `-`, and a number at the end loses its leading zeros (`Oak_01.wav`: `oak-1`). If several names differ in a number
/// after a letter, they get a `-` (`oak1 oak2`: `oak-1 oak-2`). A name that is only a number, or taken, starts with the
/// name of its folder.
/// Files outside of the project are copied to `into`; no file is overwritten. A file whose content is registered
/// already is not added again. kiai.toml is edited as by `rename_entry`. [control]
AddResult add_files(const std::filesystem::path& folder, const std::vector<std::filesystem::path>& what,
                    const AddOptions& options = {});

/// Returns the name that `add_files` makes of a file's name; empty if it has no letter and no digit.
std::string clip_name(const std::filesystem::path& file);

/// Writes a project with three clips (drop-1, oak-1, peg-1), a sound that picks among them, and a binding to the space
/// key; `empty`: only a kiai.toml with its format and name. Makes `folder` if it is missing, and overwrites nothing.
/// Returns an empty text, or the error. [control]
std::string new_project(const std::filesystem::path& folder, bool empty = false);

} // namespace kiai::inline v0
