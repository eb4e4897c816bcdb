// Reloads a project when its files change.
#pragma once

#include <kiai/engine.h>
#include <kiai/load.h>

#include <filesystem>
#include <functional>
#include <memory>

namespace kiai::inline v0 {

/// Watches kiai.toml and the audio files of a project on its own thread. When they have changed, and then not changed
/// for 100 ms, loads them and calls Engine::set_project. Unchanged files are not decoded again. A project with errors
/// is rejected and reported once; the last valid project stays active.
class Reload {
  public:
    /// Called after each change of the files, on the thread of the Reload. `taken`: the engine now plays the project.
    using ReloadReport = std::function<void(const LoadResult& loaded, bool taken)>;

    /// Starts to watch; the present files count as known. `folder`: the folder or pack of the engine's project.
    /// `told`: receives the results (default: errors and warnings are printed on standard error). [control]
    Reload(const Engine& engine, std::filesystem::path folder, LoadOptions options = {}, ReloadReport told = {});
    /// Stops watching; waits for a load that is running. [control]
    ~Reload();
    Reload(const Reload&) = delete;
    Reload& operator=(const Reload&) = delete;

  private:
    class Watcher;
    std::unique_ptr<Watcher> watcher_;
};

} // namespace kiai::inline v0

#ifdef KIAI_SILENT
#include <kiai/silent/reload.h>
#endif
