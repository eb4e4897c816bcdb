// A project: its sounds and what they are bound to, with its clips ready to play.
#pragma once

#include <kiai/finding.h>

#include <memory>
#include <string>
#include <string_view>
#include <vector>

namespace kiai::model {
struct Project;
}

namespace kiai::inline v0 {

/// Names of entries.
class NameList : public std::vector<std::string> {
  public:
    using std::vector<std::string>::vector;
    /// Returns true if the name is in the list; compares exactly.
    bool has(std::string_view name) const noexcept;
};

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
    const std::string& fingerprint() const noexcept;

    /// For the library's own rooms; the type is not part of the public face.
    const model::Project& data() const noexcept { return *data_; }
    const std::shared_ptr<const model::Project>& shared() const noexcept { return data_; }

    /// Return the names of what the project has, in the order of kiai.toml. Entries with an error are not among them.
    /// `sounds`: with their variants, without clips that are played by their own name. [any]
    NameList sounds() const;
    NameList clips() const;
    NameList buses() const;
    NameList dials() const;
    NameList scopes() const;
    NameList zones() const;
    NameList motions() const;
    NameList sequences() const;

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
struct LoadResult {
    Project project;
    std::vector<Finding> findings;

    /// True unless a finding is an error.
    bool ok() const noexcept { return count(findings, Severity::error) == 0; }
};

} // namespace kiai::inline v0

#ifdef KIAI_SILENT
#include <kiai/silent/project.h>
#endif
