// Finds wrong names in the source code of an app.
#pragma once

#include <kiai/finding.h>

#include <cstddef>
#include <filesystem>
#include <vector>

namespace kiai::inline v0 {

struct CodeResult {
    std::vector<Finding> findings; ///< by file and line
    std::size_t files = 0, lines = 0;
    std::size_t names = 0; ///< names in calls of Kiai, right or wrong
};

/// Reads C, C++, Lua and Python source, and checks the names in calls of Kiai: texts such as `bench.play("oak")`, and
/// constants of the names header such as `names::sound::oak`. Objects count as Kiai's if the source declares them so,
/// for example with `kiai::Session&` or `= kiai::open(…)`. Reports unknown names with the nearest one, names of another
/// kind, wrong key codes, and names that `rename_entry` replaced. `folder`: the project's; its audio files are not
/// read. Folders of sources are searched; hidden ones are not. [control]
CodeResult check_code(const std::filesystem::path& folder, const std::vector<std::filesystem::path>& sources);

} // namespace kiai::inline v0
