// Loads a project from a folder, from a pack, or through the app's own file reader.
#pragma once

#include <kiai/clip_source.h>
#include <kiai/project.h>

#include <cstddef>
#include <filesystem>
#include <functional>
#include <map>
#include <optional>
#include <string>
#include <vector>

namespace kiai::inline v0 {

/// Receives the progress of a long call: `done` of `all` items. Called on the calling thread.
using Progress = std::function<void(std::size_t done, std::size_t all)>;

struct LoadOptions {
    /// Allows clips with `outside = true`, whose file is outside of the project's folder. Set it to false for projects
    /// from strangers.
    bool outside = true;
    bool placeholder = false; ///< plays a short tick for pending entries, instead of nothing
    Progress progress = {};   ///< clips decoded
    /// Called before each clip is read, on several threads. If it returns true, loading ends: each clip that was not
    /// read becomes a finding.
    std::function<bool()> cancel = {};
    /// Loads only the clips that these scopes need (default: all clips). A sound of another scope is `not-ready`.
    /// To prepare a scope, load with it too, on a thread of the app, with the engine's project as `reuse`, and call
    /// Engine::set_project. To release a scope, load without it. Current plays continue.
    std::optional<std::vector<std::string>> scopes = std::nullopt;
    /// A project whose samples are used again for files that have not changed.
    Project reuse = {};
    /// Opens all files of the project, also kiai.toml (default: from the folder).
    OpenFile open = {};
    /// The samples of clips that say `from-app = true`, by name.
    std::map<std::string, Samples> samples = {};
    /// Decodes clips that a pack holds as audio files, before Kiai's own decoders are tried. Decodes whole clips, also
    /// those that would be streamed.
    DecodeFile decode = {};
};

/// Loads a project: a folder with a kiai.toml, or a pack that `kiai pack` made. Decodes its clips on all cores.
/// [control] Does I/O; never throws but bad_alloc.
LoadResult load_project(const std::filesystem::path& from, const LoadOptions& options = {});

/// The same for a pack that the app has read into memory. Its streams read from these bytes while its clips exist.
/// [control] Never throws but bad_alloc.
LoadResult load_pack(std::vector<std::byte> pack, const LoadOptions& options = {});

} // namespace kiai::inline v0

#ifdef KIAI_SILENT
#include <kiai/silent/load.h>
#endif
