// Who made the clips of a project: what ships with an app.
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
    std::vector<std::string> unrecorded; ///< clips of which neither author nor licence is written down
    std::vector<Finding> findings;       ///< of reading the project
};

/// Gathers what kiai.toml says of each clip and of its folder. [control] Does I/O.
Credits gather_credits(const std::filesystem::path& folder);

/// As lines for people; as Markdown.
std::string credits_as_text(const Credits& credits);
std::string credits_as_markdown(const Credits& credits);

} // namespace kiai::inline v0
