// A project: what its kiai.toml says, with its clips decoded and ready to play.
#pragma once

#include <kiai/clip_source.h>
#include <kiai/finding.h>

#include <filesystem>
#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <stop_token>
#include <string>
#include <string_view>
#include <vector>

namespace kiai::model {
struct Project;
}

namespace kiai::inline v0 {

/// A loaded project. A cheap handle to data that never changes; copy it freely, use it from any thread, drop it any
/// time: an engine that plays it keeps it alive. A default-made project is empty and plays nothing.
class Project {
  public:
    Project();
    explicit Project(std::shared_ptr<const model::Project> data);

    /// The project's `name`, empty where it has none.
    const std::string& name() const noexcept;

    /// Sixteen letters that tell this state of the project from others: of its kiai.toml, and of how long its clips
    /// are.
    const std::string& mark() const noexcept;

    /// For the library's own rooms; the type is not part of the public face.
    const model::Project& data() const noexcept { return *data_; }
    const std::shared_ptr<const model::Project>& shared() const noexcept { return data_; }

    /// Bytes that the samples of its clips take in memory; of a streamed clip those of its head.
    std::size_t memory() const noexcept;
    /// The same of the clips that nothing but this scope needs: what LoadOptions::scopes without it would save. 0 where
    /// they are not loaded.
    std::size_t memory(std::string_view scope) const;

  private:
    std::shared_ptr<const model::Project> data_;
};

/// What loading gave: always a project (an empty one where kiai.toml cannot be read or parsed at all) and all findings
/// at once. Any other error leaves that entry out of the project, and the rest plays.
struct Loaded {
    Project project;
    std::vector<Finding> findings;

    /// True unless a finding is an error.
    bool ok() const noexcept { return count(findings, Severity::error) == 0; }
};

/// How far something that takes long has come: `done` of `all` pieces. Called on the calling thread.
using Progress = std::function<void(std::size_t done, std::size_t all)>;

struct LoadOptions {
    /// Clips may say `outside = true`, and so name a file that is not below the project's folder. Set it to false for
    /// projects from strangers.
    bool may_leave = true;
    bool placeholder = false; ///< what is pending is heard as a short tick; else nothing is heard of it
    Progress progress = {};   ///< clips decoded
    /// Ends loading early: clips that were not read yet are left out, each with a finding.
    std::stop_token cancel = {};
    /// Clips that are needed by other scopes alone are left out; a sound of theirs that is asked for is `not-ready`. To
    /// prepare a scope, load with it too, on a thread of the app's own (`progress` and `cancel` are for the screen that
    /// shows meanwhile), with the engine's project as `like`, and give what was loaded to Engine::change; to let it go,
    /// load without it. What sounds goes on. Without a value: all of them.
    std::optional<std::vector<std::string>> scopes = std::nullopt;
    /// A project whose samples are used again where a clip's file has not changed since.
    Project like = {};
    /// Reads all files of the project, kiai.toml among them; without it they are read from the folder.
    OpenFile open = {};
    /// The samples of clips that say `from-app = true`, by name.
    std::map<std::string, Samples> samples = {};
};

/// Reads `folder`/kiai.toml and decodes the clips that it names, on all cores. [control] Does I/O; never throws but
/// bad_alloc.
Loaded load_project(const std::filesystem::path& folder, const LoadOptions& options = {});

} // namespace kiai::inline v0
