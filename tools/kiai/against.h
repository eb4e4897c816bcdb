// `rehearse --baseline`: a run beside another one, of a log or of another state of the project.
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

/// `other`: a log, or the folder of another state of the project, with which the trace is rehearsed too; nothing, and
/// why on standard error, where it cannot be read.
std::optional<Against> compare_with(const std::string& other, const std::filesystem::path& folder, const Trace& trace,
                                    const RehearseSettings& settings, const Rehearsal& now);
void print_against(const Against& against, const Rehearsal& now, const std::string& other);

} // namespace kiai::tool
