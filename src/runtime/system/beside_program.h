// Finds a project next to the program.
#pragma once

#include <filesystem>

namespace kiai::runtime {

/// Returns the path from the program's folder if the project exists only there; otherwise the path unchanged. [control]
std::filesystem::path beside_program(const std::filesystem::path& given);

} // namespace kiai::runtime
