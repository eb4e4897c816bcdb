// Measures an audio file.
#pragma once

#include <kiai/facts.h>
#include <kiai/finding.h>

#include <filesystem>
#include <optional>

namespace kiai::inline v0 {

/// The facts, or the finding that explains why there are none.
struct FactsOrFinding {
    std::optional<Facts> facts;
    Finding finding;
};

/// Reads and measures a file, registered or not. [control] Decodes the file.
FactsOrFinding read_facts(const std::filesystem::path& file);

} // namespace kiai::inline v0
