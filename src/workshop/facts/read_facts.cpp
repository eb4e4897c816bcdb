#include "workshop/facts/content_hash.h"
#include "workshop/facts/measure.h"

#include <kiai/workshop/facts.h>

#include <fmt/format.h>

namespace kiai::inline v0 {

FactsOrFinding read_facts(const std::filesystem::path& file) {
    reader::Decoded decoded = workshop::decode_facts(file);
    if (!decoded.ok()) {
        Finding finding;
        finding.code = decoded.code;
        finding.file = file.string();
        finding.message = fmt::format("the file {}", decoded.message);
        finding.fix = decoded.fix;
        return {std::nullopt, finding};
    }
    decoded.facts.hash = workshop::content_hash(file).value_or(0);
    return {std::move(decoded.facts), {}};
}

} // namespace kiai::inline v0
