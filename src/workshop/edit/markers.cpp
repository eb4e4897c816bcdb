#include <kiai/workshop/markers.h>

#include "core/model/near.h"
#include "core/reader/entry.h"
#include "workshop/edit/editing.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <cmath>
#include <optional>

namespace kiai::inline v0 {
namespace {

using namespace workshop;

constexpr double apart = 0.15; ///< seconds: taps that are further apart belong to different markers

/// A motion as kiai.toml says; it may have no markers yet.
struct TappedMotion {
    std::string name;
    double frames = 0, rate = 30;
};

struct PlayheadAt {
    double at = 0; ///< seconds
    double frame = 0;
};

std::optional<TappedMotion> find_motion(const reader::Value& root, const std::string& name) {
    const reader::Value* motions = root.find("motion");
    const reader::Value* entry = motions ? motions->find(name) : nullptr;
    const reader::Value* frames = entry ? entry->find("frames") : nullptr;
    if (!frames || !(frames->number >= 1)) return std::nullopt;
    TappedMotion motion{name, frames->number, 30};
    if (const reader::Value* rate = entry->find("rate"); rate && rate->number > 0) motion.rate = rate->number;
    return motion;
}

/// The playhead of a motion over time, unwrapped: it only grows, however often it starts again.
std::vector<PlayheadAt> way_of(const Trace& trace, const TappedMotion& motion) {
    std::vector<PlayheadAt> way;
    double turns = 0;
    for (const TraceLine& line : trace.lines) {
        if (line.report.kind != ReportKind::playhead || line.report.name != motion.name) continue;
        const double at = static_cast<double>(line.due(trace.sample_rate)) / trace.sample_rate;
        const double frame = line.report.value;
        if (!way.empty() && frame + turns < way.back().frame - motion.frames / 2.0) turns += motion.frames;
        way.push_back({at, frame + turns});
    }
    return way;
}

/// The frame at a time, if the motion runs then.
std::optional<double> frame_at(const std::vector<PlayheadAt>& way, double at) {
    const auto after = std::find_if(way.begin(), way.end(), [&](const PlayheadAt& one) { return one.at >= at; });
    if (after == way.end()) return std::nullopt;
    if (after == way.begin()) return after->at == at ? std::optional(after->frame) : std::nullopt;
    const PlayheadAt& before = *(after - 1);
    return before.frame + (after->frame - before.frame) * (at - before.at) / (after->at - before.at);
}

/// Groups frames on the circle of a motion by the gaps between them.
std::vector<std::vector<double>> groups_of(std::vector<double> frames, const TappedMotion& motion) {
    std::sort(frames.begin(), frames.end());
    const double gap = apart * motion.rate, length = motion.frames;
    // Starts behind the widest gap, so that a group at the end of the motion is not torn.
    std::size_t start = 0;
    double widest = -1;
    for (std::size_t i = 0; i < frames.size(); ++i) {
        const double before = i == 0 ? frames.back() - length : frames[i - 1];
        if (frames[i] - before > widest) widest = frames[i] - before, start = i;
    }
    std::vector<std::vector<double>> groups;
    double last = 0;
    for (std::size_t n = 0; n < frames.size(); ++n) {
        const std::size_t i = (start + n) % frames.size();
        const double frame = frames[i] + (i < start ? length : 0);
        if (groups.empty() || frame - last > gap) groups.emplace_back();
        groups.back().push_back(frame);
        last = frame;
    }
    return groups;
}

void write(Document& toml, const std::string& motion, const std::string& marker, const std::vector<TappedMarker>& all) {
    std::vector<double> frames;
    for (const TappedMarker& one : all)
        if (one.used) frames.push_back(one.frame);
    const std::string value =
        frames.size() == 1 ? fmt::format("{}", frames[0]) : fmt::format("[{}]", fmt::join(frames, ", "));
    const Place place{std::string("motion"), motion};
    const reader::Value* markers = toml.root().find("motion")->find(motion)->find("markers");
    Place inner = place;
    inner.emplace_back(std::string("markers"));
    if (!markers) return toml.add(place, {{"markers", fmt::format("{{ {} = {} }}", marker, value)}});
    if (!markers->find(marker)) return toml.add(inner, {{marker, value}});
    inner.emplace_back(marker);
    toml.set_value(inner, value);
}

} // namespace

TappedMarkers mark_taps(const std::filesystem::path& folder, const Trace& trace, const std::string& motion,
                        const std::string& marker, const TapOptions& options) {
    TappedMarkers result;
    const auto change = [&](Document& toml, EditResult& edited) {
        const std::optional<TappedMotion> known = find_motion(toml.root(), motion);
        if (!known) {
            std::vector<std::string> names;
            if (const reader::Value* motions = toml.root().find("motion"))
                for (const reader::Member& one : motions->members) names.push_back(one.key);
            const std::string near = model::nearest(motion, names);
            return refuse(edited, folder, FindingCode::unknown_name, {}, fmt::format("unknown motion \"{}\"", motion),
                          near.empty() || near == motion ? "write [motion.NAME] with frames and rate"
                                                         : fmt::format("did you mean \"{}\"?", near));
        }
        if (!reader::good_name(marker))
            return refuse(edited, folder, FindingCode::bad_name, {}, fmt::format("\"{}\" cannot name a marker", marker),
                          "use a-z, 0-9, - and _, at most 64 of them");
        const std::vector<PlayheadAt> way = way_of(trace, *known);
        std::vector<double> frames;
        for (const TraceLine& line : trace.lines) {
            if (line.report.kind != ReportKind::notice || line.report.name != options.notice) continue;
            const auto frame = frame_at(way, static_cast<double>(line.due(trace.sample_rate)) / trace.sample_rate);
            if (frame) frames.push_back(*frame - known->frames * std::floor(*frame / known->frames));
        }
        if (frames.empty())
            return refuse(edited, folder, FindingCode::nothing_bound, {},
                          fmt::format("the trace has no notice \"{}\" while \"{}\" runs", options.notice, motion),
                          "give the notice at each tap, and report the playhead in every frame");
        result.turns = (way.back().frame - way.front().frame) / known->frames;
        for (const std::vector<double>& group : groups_of(frames, *known)) {
            TappedMarker one;
            const std::size_t half = group.size() / 2;
            const double median = group.size() % 2 == 1 ? group[half] : (group[half - 1] + group[half]) / 2;
            one.frame = std::round(median);
            one.frame -= known->frames * std::floor(one.frame / known->frames);
            one.taps = static_cast<int>(group.size());
            one.spread = (group.back() - group.front()) / 2 / known->rate;
            one.used = one.taps * 2 >= result.turns;
            result.markers.push_back(one);
        }
        std::sort(result.markers.begin(), result.markers.end(),
                  [](const auto& a, const auto& b) { return a.frame < b.frame; });
        if (std::any_of(result.markers.begin(), result.markers.end(), [](const auto& one) { return one.used; }))
            write(toml, motion, marker, result.markers);
    };
    result.edited = options.dry_run ? try_edit(folder, change) : edit_project(folder, change);
    return result;
}

} // namespace kiai::inline v0
