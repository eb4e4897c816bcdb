// A project: its sounds, bindings and decoded clips.
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

/// A loaded project: a cheap handle to data that never changes. Copy it freely, and use it on any thread. An engine
/// keeps the data alive while it plays the project. A default-constructed project is empty.
class Project {
  public:
    Project();
    explicit Project(std::shared_ptr<const model::Project> data);

    /// Returns the `name` in kiai.toml, or an empty text.
    const std::string& name() const noexcept;

    /// Returns 16 characters that identify this state of the project: its kiai.toml, and the lengths of its clips.
    const std::string& fingerprint() const noexcept;

    /// Internal. Not part of the public API.
    const model::Project& data() const noexcept { return *data_; }
    const std::shared_ptr<const model::Project>& shared() const noexcept { return data_; }

    /// Return the names of entries without errors, in the order of kiai.toml. `sounds` includes variants; it does not
    /// include clips that are played by their own name. [any]
    NameList sounds() const;
    NameList clips() const;
    NameList buses() const;
    NameList dials() const;
    NameList scopes() const;
    NameList zones() const;
    NameList motions() const;
    NameList sequences() const;

    /// Returns the bytes of samples in memory; of a streamed clip, the bytes of its first second.
    std::size_t memory() const noexcept;
    /// Returns the bytes that only this scope needs, which loading without it would save (LoadOptions::scopes). 0 if
    /// they are not loaded.
    std::size_t memory(std::string_view scope) const;

  private:
    std::shared_ptr<const model::Project> data_;
};

/// The result of loading: a project and all findings. If kiai.toml cannot be read or parsed, the project is empty. Any
/// other error disables its entry, and the rest plays.
struct LoadResult {
    Project project;
    std::vector<Finding> findings;

    /// Returns true unless a finding is an error.
    bool ok() const noexcept { return count(findings, Severity::error) == 0; }
};

} // namespace kiai::inline v0

#ifdef KIAI_SILENT
#include <kiai/silent/project.h>
#endif
