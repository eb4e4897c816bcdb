// The credits of a project's clips.
#pragma once

#include <kiai/finding.h>

#include <filesystem>
#include <string>
#include <vector>

namespace kiai::inline v0 {

/// Clips of one author under one licence.
struct CreditGroup {
    std::string author, licence;
    std::vector<std::string> sources; ///< each once
    std::vector<std::string> notes;   ///< each once
    std::vector<std::string> clips;
};

struct Credits {
    std::string project;
    std::vector<CreditGroup> groups;     ///< by author, then by licence
    std::vector<std::string> unrecorded; ///< clips without an author or a licence
    std::vector<Finding> findings;       ///< of reading the project
};

/// Collects the credits of each clip and its folder. [control] Does I/O.
Credits gather_credits(const std::filesystem::path& folder);

/// Return the credits as plain text, and as Markdown.
std::string credits_as_text(const Credits& credits);
std::string credits_as_markdown(const Credits& credits);

} // namespace kiai::inline v0
