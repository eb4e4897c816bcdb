// Loading a project from its folder, or from where the app keeps its files.
#pragma once

#include <kiai/clip_source.h>
#include <kiai/project.h>

#include <filesystem>
#include <functional>
#include <map>
#include <optional>
#include <string>
#include <vector>

namespace kiai::inline v0 {

/// How far something that takes long has come: `done` of `all` pieces. Called on the calling thread.
using Progress = std::function<void(std::size_t done, std::size_t all)>;

struct LoadOptions {
    /// Clips may say `outside = true`, and so name a file that is not below the project's folder. Set it to false for
    /// projects from strangers.
    bool outside = true;
    bool placeholder = false; ///< what is pending is heard as a short tick; else nothing is heard of it
    Progress progress = {};   ///< clips decoded
    /// Asked before each clip is read, from several threads at once. Once it is true, loading ends early: clips that
    /// were not read yet are left out, each with a finding.
    std::function<bool()> cancel = {};
    /// Clips that are needed by other scopes alone are left out; a sound of theirs that is asked for is `not-ready`. To
    /// prepare a scope, load with it too, on a thread of the app's own (`progress` and `cancel` are for the screen that
    /// shows meanwhile), with the engine's project as `reuse`, and give what was loaded to Engine::set_project; to let
    /// it go, load without it. What sounds goes on. Without a value: all of them.
    std::optional<std::vector<std::string>> scopes = std::nullopt;
    /// A project whose samples are used again where a clip's file has not changed since.
    Project reuse = {};
    /// Reads all files of the project, kiai.toml among them; without it they are read from the folder.
    OpenFile open = {};
    /// The samples of clips that say `from-app = true`, by name.
    std::map<std::string, Samples> samples = {};
};

/// Loads a project: a folder with a kiai.toml, or a pack that `kiai pack` made. Decodes its clips on all cores.
/// [control] Does I/O; never throws but bad_alloc.
LoadResult load_project(const std::filesystem::path& from, const LoadOptions& options = {});

} // namespace kiai::inline v0

#ifdef KIAI_SILENT
#include <kiai/silent/load.h>
#endif
