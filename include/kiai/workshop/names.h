// Makes a C++ header with the names of a project, so that a wrong name does not compile.
#pragma once

#include <kiai/finding.h>

#include <filesystem>
#include <string>
#include <vector>

namespace kiai::inline v0 {

struct NamesHeader {
    std::string text;              ///< empty if the project has errors
    std::vector<Finding> findings; ///< of reading the project
};

/// Makes the header: a constant for each name, in a namespace for each kind, such as `names::sound::roll`. Characters
/// other than letters and digits become `_`. `space`: the outer namespace, one identifier or several joined with `::`.
/// [control] Does I/O.
NamesHeader names_header(const std::filesystem::path& folder, const std::string& space = "names");

} // namespace kiai::inline v0
