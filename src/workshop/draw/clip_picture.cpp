// Draws clips: levels over time, and the facts of each.
#include "workshop/draw/paper.h"

#include <kiai/workshop/picture.h>

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace kiai::workshop {
namespace {

constexpr int width = 1280, left = 64, right = 884, facts_at = 908, top = 64, most_rows = 12;
constexpr Decibels floor_db = -60;

struct Layout {
    double row = 0;   ///< height of a clip's part
    double wave = 0;  ///< of its waveform
    double size = 11; ///< of text
};

/// Returns half the height for a level: linear in dB from the floor to 0.
double height_of(Decibels level, double most) {
    return most * std::clamp((static_cast<double>(level) - floor_db) / -static_cast<double>(floor_db), 0.0, 1.0);
}

double x_at(Frames frame, const Facts& facts) {
    return left + static_cast<double>(frame) / static_cast<double>(std::max<Frames>(1, facts.frames)) * (right - left);
}

std::string short_of(const std::string& text, std::size_t most) {
    return text.size() <= most ? text : "…" + text.substr(text.size() - most + 1);
}

std::vector<std::string> facts_of(const ClipDetails& clip) {
    const Facts& f = clip.facts;
    std::vector<std::string> lines{
        fmt::format("{} {}, {} Hz, {} channel{}", f.format, f.coding, f.rate, f.channels, f.channels == 1 ? "" : "s"),
        fmt::format("{:.3f} s, {} frames, {:.1f} kB", f.seconds(), f.frames, static_cast<double>(f.bytes) / 1000),
        fmt::format("{:.1f} LUFS, peak {:.1f} dBFS, true {:.1f} dBTP", f.loudness, f.peak, f.true_peak)};
    if (f.clipped > 0)
        lines.push_back(fmt::format("clipped at {} places, the longest {} frames", f.clipped, f.longest_clipped));
    for (std::size_t i = 0; i < f.loops.size(); ++i)
        lines.push_back(fmt::format("loop {} to {}, step at its seam {:.0f} dBFS", f.loops[i].begin, f.loops[i].end,
                                    f.loop_seams[i]));
    for (const std::string& user : clip.users) lines.push_back(user);
    if (clip.users.empty() && !clip.name.empty()) lines.emplace_back("nothing uses it");
    return lines;
}

void draw_scale(Paper& paper, double middle, const Layout& layout) {
    for (const int level : {0, -12, -24, -36, -48}) {
        const double h = height_of(static_cast<Decibels>(level), layout.wave / 2);
        for (const double side : {-h, h})
            paper.line(left, middle + side, right, middle + side, pale, level == 0 ? 1 : 0.5);
        if (layout.wave > 90 || level % 48 == 0)
            paper.text(left - 38, middle - h, fmt::format("{} dB", level), 9, grey);
    }
    paper.line(left, middle, right, middle, pale, 0.5);
}

void draw_times(Paper& paper, double bottom, const Facts& facts) {
    double step = 0.001;
    for (const double wider : {0.002, 0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 30.0, 60.0, 300.0})
        if (facts.seconds() / step > 10) step = wider;
    for (double t = 0; t <= facts.seconds(); t += step) {
        const double x = x_at(static_cast<Frames>(t * facts.rate), facts);
        paper.line(x, bottom, x, bottom + 4, grey);
        paper.text(x + 3, bottom + 8,
                   step < 0.1 ? fmt::format("{:.0f} ms", t * 1000) : fmt::format("{:g} s", std::round(t * 1000) / 1000),
                   9, grey);
    }
}

void draw_wave(Paper& paper, const ClipDetails& clip, double middle, const Layout& layout) {
    std::vector<double> heights;
    const auto count = clip.columns.size();
    // The level is the peak within 5 ms on either side, so that single waves do not show.
    const auto reach =
        static_cast<std::size_t>(0.005 / std::max(clip.facts.seconds(), 1e-6) * static_cast<double>(count));
    for (int x = left; x < right && count > 0; ++x) {
        const auto column = static_cast<std::size_t>(x - left) * count / static_cast<std::size_t>(right - left);
        Decibels level = Facts::silent;
        for (std::size_t c = column - std::min(column, reach); c < std::min(count, column + reach + 1); ++c)
            level = std::max(level, clip.columns[c].peak);
        heights.push_back(height_of(level, layout.wave / 2));
    }
    paper.trail(left, middle, heights, wave);
    for (std::size_t c = 0; c < count; ++c) {
        if (!clip.columns[c].clipped) continue;
        const double x = left + (static_cast<double>(c) + 0.5) / static_cast<double>(count) * (right - left);
        paper.line(x, middle - layout.wave / 2 - 5, x, middle - layout.wave / 2 + 3, red, 2);
    }
}

void draw_marks(Paper& paper, const ClipDetails& clip, double middle, const Layout& layout) {
    const Facts& facts = clip.facts;
    const double up = middle - layout.wave / 2, down = middle + layout.wave / 2;
    if (const double ms = 1000.0 * static_cast<double>(facts.lead) / facts.rate; ms >= 1) {
        const double x = x_at(facts.lead, facts);
        const Ink ink = ms > 10 ? red : amber;
        const std::string words = fmt::format("first heard after {:.1f} ms", ms);
        const double wide = paper.text_width(words, 9.5);
        paper.line(x, up, x, down, ink, 1.2);
        paper.text(x - left > wide + 8 ? x - wide - 5 : x + 5, down - 10, words, 9.5, ink);
    }
    for (const LoopPoints& loop : facts.loops) {
        const double from = x_at(loop.begin, facts), to = x_at(loop.end, facts);
        paper.line(from, down - 3, to, down - 3, amber, 1.5);
        for (const double x : {from, to}) paper.line(x, up, x, down - 3, amber, 1);
        paper.text(from + 5, down - 11, "loop", 9.5, amber);
    }
}

} // namespace
} // namespace kiai::workshop

namespace kiai::inline v0 {

std::string draw_clips(const std::filesystem::path& file, const EntryDetails& shown) {
    using namespace workshop;
    const auto rows = static_cast<int>(std::min<std::size_t>(shown.clips.size(), most_rows));
    if (rows == 0) return file.string() + ": there is nothing to draw";
    Layout layout;
    layout.row = rows == 1 ? 420 : std::clamp(720.0 / rows, 84.0, 240.0);
    layout.wave = layout.row - 44;
    Paper sheet(width, static_cast<int>(top + rows * layout.row + 24));
    std::string title = shown.kind + " " + shown.name;
    if (shown.clips.size() > most_rows)
        title += fmt::format(", the first {} of {} takes", most_rows, shown.clips.size());
    sheet.text(24, 26, title, 17, black, true);
    sheet.text(24, 48, "level in dB over time; a red tick: samples at full scale", 10, grey);
    for (int r = 0; r < rows; ++r) {
        const ClipDetails& clip = shown.clips[static_cast<std::size_t>(r)];
        const double y = top + r * layout.row, middle = y + 18 + layout.wave / 2;
        sheet.text(left, y + 6, clip.name.empty() ? clip.file : clip.name, 12, black, true);
        draw_scale(sheet, middle, layout);
        draw_wave(sheet, clip, middle, layout);
        draw_marks(sheet, clip, middle, layout);
        draw_times(sheet, middle + layout.wave / 2, clip.facts);
        double line = y + 24;
        if (!clip.name.empty())
            sheet.text(facts_at, std::exchange(line, line + 15), short_of(clip.file, 52), layout.size, grey);
        for (const std::string& fact : facts_of(clip)) {
            if (line > y + layout.row) break;
            sheet.text(facts_at, std::exchange(line, line + 15), short_of(fact, 60), layout.size, black);
        }
    }
    return sheet.save(file);
}

} // namespace kiai::inline v0
