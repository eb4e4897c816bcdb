#include "against.h"

#include "command.h"

#include <fmt/format.h>

#include <iostream>

namespace kiai::tool {
namespace {

constexpr std::size_t most_lines = 40; ///< for people; JSON has all

std::string line_of(const Decision& decision, int rate) {
    return fmt::format("{:8.3f} s  {}", static_cast<double>(decision.frame) / rate, describe(decision));
}

} // namespace

std::optional<Against> compare_with(const std::string& other, const std::filesystem::path& folder, const Trace& trace,
                                    const RehearseSettings& settings, const Rehearsal& now) {
    Against against;
    std::error_code error;
    if (std::filesystem::is_directory(other, error)) {
        const LoadResult loaded = load_project(other, {.progress = progress_line("clips decoded")});
        if (!say_findings(loaded.findings, Severity::error)) return std::nullopt;
        against.before = rehearse(loaded.project, trace, settings);
        against.entries = project_differences(other, folder);
    } else {
        LoadedLog log = load_log(other);
        if (!say_findings(log.findings)) return std::nullopt;
        against.before = std::move(log.rehearsal);
    }
    against.found = differences(against.before, now);
    return against;
}

void print_against(const Against& against, const Rehearsal& now, const std::string& other) {
    for (const std::string& entry : against.entries) std::cout << entry << '\n';
    std::size_t gone = 0, added = 0, changed = 0, shown = 0;
    for (const Difference& one : against.found.all) {
        gone += one.kind == Difference::Kind::gone ? 1 : 0;
        added += one.kind == Difference::Kind::added ? 1 : 0;
        changed += one.kind == Difference::Kind::changed ? 1 : 0;
        if (++shown > most_lines) continue;
        const std::string what = one.what.empty() ? "" : "  [" + one.what + "]";
        if (one.kind != Difference::Kind::added)
            std::cout << paint("- " + line_of(one.before, against.before.sample_rate), 31) << '\n';
        if (one.kind != Difference::Kind::gone)
            std::cout << paint("+ " + line_of(one.now, now.sample_rate) + what, 32) << '\n';
    }
    if (shown > most_lines) std::cout << fmt::format("… and {} more\n", shown - most_lines);
    std::cout << fmt::format("compared with {}: {} equal, {} changed, {} missing, {} new\n", other,
                             counted(against.found.alike, "decision"), changed, gone, added);
}

} // namespace kiai::tool
