// Checks a project without running it, and applies certain fixes.
#pragma once

#include <kiai/finding.h>
#include <kiai/load.h>

#include <filesystem>
#include <string>
#include <vector>

namespace kiai::inline v0 {

struct CheckOptions {
    bool outside = true; ///< see LoadOptions    /// Hashes every file, instead of trusting an unchanged size and
                         ///< modification time.
    bool verify = false;
    Progress progress = {}; ///< files checked    /// Keeps the measurements in `folder`/.kiai-facts.json, also if the
                            ///< folder has no such file yet.
    bool keep_facts = false;
    bool dry_run = false; ///< fix_project: returns the changes, and writes nothing
};

struct CheckResult {
    std::string name;              ///< the project's
    std::vector<Finding> findings; ///< in the order of kiai.toml, accepted ones too
};

/// Returns the findings of `load_project`, and those about audio content, unused entries and credits. If `folder` has a
/// .kiai-facts.json (made by `add` and `keep_facts`), decodes only new and changed files, and updates it.
/// [control] Does I/O; throws only bad_alloc.
CheckResult check_project(const std::filesystem::path& folder, const CheckOptions& options = {});

/// One change to kiai.toml.
struct Change {
    int line = 0; ///< line before the change
    std::string before, after;
};

/// The result of an edit of kiai.toml: its changes, or the findings that prevented it.
struct EditResult {
    std::vector<Change> changes;
    std::vector<std::string> remarks; ///< remarks, one line each
    std::vector<Finding> findings;    ///< with an error nothing was changed
    bool ok() const noexcept { return count(findings, Severity::error) == 0; }
};

/// Applies the fixes that are certain (Finding::replacement: letter case, moved files, renamed keys). Edits kiai.toml
/// as `rename_entry` does. [control]
EditResult fix_project(const std::filesystem::path& folder, const CheckOptions& options = {});

} // namespace kiai::inline v0
