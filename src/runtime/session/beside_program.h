// Looks a project up next to the program.
#pragma once

#include <filesystem>

namespace kiai::runtime {

/// A path that leads nowhere from the current folder may lead somewhere from the folder of the program's own file; else
/// the path as it was given. [control]
std::filesystem::path beside_program(const std::filesystem::path& given);

} // namespace kiai::runtime
