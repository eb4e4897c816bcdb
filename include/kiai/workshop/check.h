// All that is wrong or doubtful about a project, without running it; and mending what is certain.
#pragma once

#include <kiai/finding.h>
#include <kiai/load.h>

#include <filesystem>
#include <string>
#include <vector>

namespace kiai::inline v0 {

struct CheckOptions {
    bool outside = true; ///< see LoadOptions
    /// Hash every file, instead of believing its size and time of change where they are as they were.
    bool verify = false;
    Progress progress = {}; ///< files looked at
    /// Keep what was measured in `folder`/.kiai-facts.json, if the folder has no such file yet.
    bool keep_facts = false;
};

struct CheckResult {
    std::string name;              ///< the project's
    std::vector<Finding> findings; ///< in the order of kiai.toml; those that the project accepts among them
};

/// Everything that `load_project` would find, and doubts: about what each file holds, what is used, who made it. If
/// `folder` has a .kiai-facts.json, only what is new or changed is decoded, and the file is brought up to date; `add`
/// makes it, and `keep_facts`. [control] Does I/O; never throws but bad_alloc.
CheckResult check_project(const std::filesystem::path& folder, const CheckOptions& options = {});

/// One change to kiai.toml.
struct Change {
    int line = 0; ///< of the file before the change
    std::string before, after;
};

/// What an edit did to kiai.toml: either its changes, or the findings that say why there are none.
struct EditResult {
    std::vector<Change> changes;
    std::vector<std::string> remarks; ///< what else is worth knowing, one line each
    std::vector<Finding> findings;    ///< errors: then nothing was changed
    bool ok() const noexcept { return count(findings, Severity::error) == 0; }
};

/// Carries out the mends that are beyond doubt (`Finding::certain`: a case, a moved file), in place, as `rename_entry`
/// edits. [control]
EditResult fix_project(const std::filesystem::path& folder, const CheckOptions& options = {});

} // namespace kiai::inline v0
