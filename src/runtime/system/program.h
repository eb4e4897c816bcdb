// The running program.
#pragma once

#include <filesystem>

namespace kiai::runtime {

/// Returns the absolute path of the program; empty if the system does not tell. [control]
std::filesystem::path program_path();

} // namespace kiai::runtime
