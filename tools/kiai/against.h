// `rehearse --baseline`: compares a run with a log, or with another state of the project.
#pragma once

#include <kiai/workshop/differences.h>

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace kiai::tool {

struct Against {
    Rehearsal before;
    Differences found;
    std::vector<std::string> entries; ///< of the project that differ
};

/// `other`: a log, or the folder of another state of the project, which the trace is rehearsed with too. Returns
/// nothing, after printing why, if it cannot be read.
std::optional<Against> compare_with(const std::string& other, const std::filesystem::path& folder, const Trace& trace,
                                    const RehearseSettings& settings, const Rehearsal& now);
void print_against(const Against& against, const Rehearsal& now, const std::string& other);

} // namespace kiai::tool
