// A project that is changed in its files while an engine plays it.
#pragma once

#include <kiai/engine.h>
#include <kiai/load.h>

#include <filesystem>
#include <functional>
#include <memory>

namespace kiai::inline v0 {

/// Watches the files of a project, kiai.toml and its audio, on a thread of its own. Once they have changed, and then
/// stood still for 100 ms, they are loaded, and the engine goes on with them, see Engine::set_project; what has not
/// changed is not decoded again. A project with errors is not taken: the last good one plays on, and it is said once.
class Reload {
  public:
    /// Called once for each change of the files, on the thread of the Reload. `taken`: the engine plays it now.
    using ReloadReport = std::function<void(const LoadResult& loaded, bool taken)>;

    /// What is there now counts as known. `folder` is that of the engine's project, or its pack. Without `told` errors
    /// and warnings go to standard error. [control]
    Reload(const Engine& engine, std::filesystem::path folder, LoadOptions options = {}, ReloadReport told = {});
    /// Ends the watching; waits for a loading that is under way. [control]
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
