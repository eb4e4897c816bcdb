#include "waveform.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace kiai::tool {
namespace {

constexpr std::size_t wide = 100, lines = 6;
constexpr double floor_db = -60;
const char* const parts[] = {" ", "▁", "▂", "▃", "▄", "▅", "▆", "▇", "█"};

/// Returns the loudest of the columns in each of `count` places, as a share of the way from the floor to 0 dB.
std::vector<double> heights_of(const ClipDetails& clip, std::size_t count) {
    std::vector<double> heights(count, 0.0);
    for (std::size_t c = 0; c < clip.columns.size(); ++c) {
        double& height = heights[c * count / clip.columns.size()];
        height =
            std::max(height, std::clamp((static_cast<double>(clip.columns[c].peak) - floor_db) / -floor_db, 0.0, 1.0));
    }
    return heights;
}

const char* part_of(double height, std::size_t line, std::size_t of) {
    const double eighths = 8 * (height * static_cast<double>(of) - static_cast<double>(line));
    return parts[static_cast<std::size_t>(std::clamp(std::lround(eighths), 0l, 8l))];
}

std::size_t place_of(Frames frame, const Facts& facts) {
    return std::min<std::size_t>(wide - 1, static_cast<std::size_t>(frame) * wide /
                                               static_cast<std::size_t>(std::max<Frames>(1, facts.frames)));
}

std::string without_end(std::string line) {
    line.erase(line.find_last_not_of(' ') + 1);
    return line + "\n";
}

/// Returns marks at certain frames, below the waveform.
std::string marks_of(const ClipDetails& clip) {
    std::string marks, clipped(wide, ' ');
    const Facts& facts = clip.facts;
    for (std::size_t c = 0; c < clip.columns.size(); ++c)
        if (clip.columns[c].clipped) clipped[c * wide / clip.columns.size()] = '!';
    if (facts.clipped > 0) marks += fmt::format("  clipped {}", without_end(clipped));
    for (const LoopPoints& loop : facts.loops) {
        const std::size_t from = place_of(loop.begin, facts), to = std::max(from + 1, place_of(loop.end - 1, facts));
        std::string line(wide + 1, ' ');
        std::fill(line.begin() + static_cast<std::ptrdiff_t>(from), line.begin() + static_cast<std::ptrdiff_t>(to),
                  '-');
        line[from] = '[', line[to] = ']';
        marks += fmt::format("     loop {}", without_end(line));
    }
    if (facts.lead * 1000 >= facts.rate) // a millisecond
        marks +=
            fmt::format("          {}^ first heard after {:.1f} ms\n", std::string(place_of(facts.lead, facts), ' '),
                        1000.0 * static_cast<double>(facts.lead) / facts.rate);
    return marks;
}

} // namespace

std::string waveform(const ClipDetails& clip) {
    const std::vector<double> heights = heights_of(clip, wide);
    std::string out;
    for (std::size_t line = lines; line-- > 0;) {
        std::string row = fmt::format("{:5} dB ", static_cast<int>(floor_db) * static_cast<int>(lines - 1 - line) /
                                                      static_cast<int>(lines));
        for (const double height : heights) row += part_of(height, line, lines);
        out += without_end(" " + row);
    }
    const std::string end = fmt::format("{:.3f} s", clip.facts.seconds());
    out += marks_of(clip);
    out += fmt::format("          0{:>{}}\n", end, wide - 1);
    return out;
}

std::string small_waveform(const ClipDetails& clip, std::size_t columns) {
    std::string out;
    for (const double height : heights_of(clip, columns)) out += part_of(height, 0, 1);
    return out;
}

} // namespace kiai::tool
