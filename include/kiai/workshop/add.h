// Registering audio files in a project, and starting one from nothing.
#pragma once

#include <kiai/finding.h>
#include <kiai/load.h>

#include <filesystem>
#include <string>
#include <vector>

namespace kiai::inline v0 {

struct AddOptions {
    std::string name = {};                ///< of the clip, where one file is added; empty: made from the file's name
    std::filesystem::path into = "clips"; ///< where copies go, below the project's folder
    bool in_place = false;                ///< name the file where it lies, instead of copying it: a risk, and said
    bool make_sounds = true;              ///< a numbered series becomes a sound with that many takes
    bool dry_run = false;                 ///< tell what would be done, and do nothing
    std::string author = {}, licence = {}, source = {}, note = {}; ///< kept with each clip, where they are given
    Progress progress = {};                                        ///< files read and measured
};

struct AddedFile {
    enum class Outcome { added, known, refused };
    std::filesystem::path file; ///< as it was given
    Outcome outcome = Outcome::refused;
    std::string name;   ///< the clip's
    std::string path;   ///< of the registered file, relative to the project
    std::string why;    ///< what else there is to say: that it is cut short, what it is known as, why it was refused
    std::string fix;    ///< what to do about a refusal
    double seconds = 0; ///< its length, where it could be read
};

struct AddedSeries {
    std::string name;         ///< of the series: `oak` of `oak-1`, `oak-2` …
    int takes = 0;            ///< clips that it has now
    std::vector<int> missing; ///< numbers between its first and its last that no clip has
    bool made_sound = false;  ///< [sound.NAME] was written; false where something takes the series already
};

struct AddResult {
    std::vector<AddedFile> files;
    std::vector<AddedSeries> series;  ///< that a file was added to
    std::size_t others = 0;           ///< files of other kinds that were passed over in folders
    std::vector<std::string> remarks; ///< what else is worth knowing, one line each
    std::vector<Finding> findings;    ///< of the project itself; an error among them: nothing was added at all
    int count(AddedFile::Outcome outcome) const noexcept;
};

/// Registers files, all audio files of folders, or of patterns with `*` and `?`. What can be used goes in, the rest is
/// told with its reason.
///
/// Names are made from file names: letters without marks and in lower case, everything else than a-z 0-9 becomes `-`,
/// and a number at the end loses its leading zeros (`Oak_01.wav`: `oak-1`). A number that follows a letter is set off
/// where there are several such (`oak1 oak2`: `oak-1 oak-2`). A name that is only a number, or taken, gets the folder's
/// name before it.
///
/// Files outside of the project are copied to `into`; a file is never overwritten. A file whose content is registered
/// already is known, and not added again. kiai.toml is edited as by `rename_entry`. [control]
AddResult add_files(const std::filesystem::path& folder, const std::vector<std::filesystem::path>& what,
                    const AddOptions& options = {});

/// The name that `add_files` makes of a file's name; empty where no letter and no digit is left of it.
std::string clip_name(const std::filesystem::path& file);

/// Writes a project that can be heard at once: three clips (drop-1, oak-1, peg-1), a sound that picks among them, and a
/// binding of the space key to it. `folder` is made where it is not there; nothing that is there is overwritten. Empty,
/// or why not. [control]
std::string new_project(const std::filesystem::path& folder);

} // namespace kiai::inline v0
