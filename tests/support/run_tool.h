// Runs a program of the build from a shell.
#pragma once

#include <filesystem>
#include <string>

namespace support {

struct Ran {
    int status = -1;
    std::string out, err;
};

/// Runs a shell command, in `folder` if one is given; standard input is empty.
Ran run(const std::string& command, const std::filesystem::path& folder = {});

/// Runs the command-line tool with these arguments.
Ran kiai_tool(const std::string& arguments, const std::filesystem::path& folder = {});

/// Returns the demo project in the source tree.
std::filesystem::path demo();

} // namespace support
