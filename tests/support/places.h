// The folders and programs of this build. Functions, because a path in a compiler's command line would keep what a
// build in another folder compiled from being used here.
#pragma once

#include <string>

namespace support {

/// The folder of the source, and that of this build.
std::string source_folder();
std::string build_folder();
/// The compiler, and what it is called with.
std::string compiler();
std::string compiler_flags();
/// The program `kiai` that is tested.
std::string tested_tool();

} // namespace support
