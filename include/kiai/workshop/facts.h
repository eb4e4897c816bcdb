// Measuring one audio file.
#pragma once

#include <kiai/facts.h>
#include <kiai/finding.h>

#include <filesystem>
#include <optional>

namespace kiai::inline v0 {

/// Either the facts, or the finding that says why there are none.
struct FactsOrFinding {
    std::optional<Facts> facts;
    Finding finding;
};

/// Reads and measures one file, registered or not. [control] Does I/O; as long as decoding takes.
FactsOrFinding read_facts(const std::filesystem::path& file);

} // namespace kiai::inline v0
