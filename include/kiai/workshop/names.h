// A C++ header with the names of a project, so that a wrong one does not compile.
#pragma once

#include <kiai/finding.h>

#include <filesystem>
#include <string>
#include <vector>

namespace kiai::inline v0 {

struct NamesHeader {
    std::string text;              ///< empty where the project has errors
    std::vector<Finding> findings; ///< of reading the project
};

/// Makes the header: a constant for each name, in a namespace for each kind, all within the namespace `space`:
/// `names::sound::roll`. What is no letter or digit becomes `_`. `space`: a C++ identifier, or several joined with
/// `::`. [control] Does I/O.
NamesHeader names_header(const std::filesystem::path& folder, const std::string& space = "names");

} // namespace kiai::inline v0
