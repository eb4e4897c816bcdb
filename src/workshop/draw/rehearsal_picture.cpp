// Draws a rehearsal: triggers above, plays below, thin lines between.
#include "workshop/draw/paper.h"
#include "workshop/draw/rehearsal_rows.h"

#include <kiai/workshop/differences.h>
#include <kiai/workshop/picture.h>

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

namespace kiai {
namespace workshop {
namespace {

constexpr double left_margin = 104, right_margin = 22, top = 58, trigger_row = 24, bottom = 62;
constexpr double quietest = -54; // dBFS: the height of a hair

constexpr double row_gap = 9, tallest_lane = 110;

/// The positions of everything: as tall as the picture may be, or less if less is enough.
struct Layout {
    Layout(const RehearsalRows& rows, int most_height) {
        for (const SoundRow& row : rows.sounds) lanes += row.lanes;
        rows_top = top + trigger_row * static_cast<double>(rows.kinds.size()) + 14;
        const double around = rows_top + bottom + row_gap * static_cast<double>(rows.sounds.size());
        lane = std::min(tallest_lane, (most_height - around) / std::max(1, lanes));
        height = std::min(most_height, static_cast<int>(std::ceil(around + lane * lanes)));
    }
    int lanes = 0, height = 0;
    double rows_top = 0, lane = 0;
};

class Sheet {
  public:
    Sheet(const RehearsalRows& rows, const PictureSettings& settings, const Layout& layout, Paper& paper)
        : rows_(rows), settings_(settings), layout_(layout), paper_(paper) {}

    void draw(const Rehearsal& rehearsal) {
        head(rehearsal);
        time_axis();
        place_rows();
        paper_.only(left_margin - 4, settings_.width - 2);
        links();
        spans();
        triggers();
        for (std::size_t i = 0; i < rows_.sounds.size(); ++i) sound(rows_.sounds[i], tops_[i]);
        paper_.everywhere();
        names();
        legend();
    }

  private:
    double x_of(Frames frame) const {
        return left_margin + static_cast<double>(frame - rows_.from) / static_cast<double>(rows_.to - rows_.from) *
                                 (settings_.width - left_margin - right_margin);
    }
    double y_of(ReportKind kind) const {
        const auto at = std::find(rows_.kinds.begin(), rows_.kinds.end(), row_for(kind)) - rows_.kinds.begin();
        return top + trigger_row * (static_cast<double>(at) + 0.5);
    }
    double y_of(const Trail& trail, double row_top) const { return row_top + layout_.lane * (trail.lane + 0.5); }

    void head(const Rehearsal& rehearsal) {
        paper_.text(16, 24, settings_.title.empty() ? "Rehearsal" : settings_.title, 17, black, true);
        if (!settings_.note.empty()) paper_.text(16, 44, settings_.note, 11, red);
        std::size_t plays = 0, refused = 0, stolen = 0;
        for (const SoundRow& row : rows_.sounds) {
            plays += row.trails.size();
            refused += row.refusals.size();
            stolen += static_cast<std::size_t>(
                std::count_if(row.trails.begin(), row.trails.end(), [](const Trail& t) { return t.stolen; }));
        }
        const std::string facts = fmt::format("{:.2f} s · seed {} · {} triggers · {} plays · {} refused · {} stolen",
                                              static_cast<double>(rows_.to - rows_.from) / rows_.rate, rehearsal.seed,
                                              rows_.causes.size(), plays, refused, stolen);
        paper_.text(settings_.width - right_margin - paper_.text_width(facts, 12), 24, facts, 12, grey);
    }

    void time_axis() {
        const double begin = static_cast<double>(rows_.from) / rows_.rate,
                     end = static_cast<double>(rows_.to) / rows_.rate;
        const double seconds = end - begin, y = layout_.height - bottom + 6;
        double step = 0.001;
        for (const double wider :
             {0.002, 0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 30.0, 60.0, 300.0, 600.0, 3600.0})
            if (seconds / step > 16) step = wider;
        for (double t = std::ceil(begin / step) * step; t <= end + 1e-9; t += step) {
            const double x = x_of(static_cast<Frames>(t * rows_.rate));
            paper_.line(x, top - 6, x, y, {pale.red, pale.green, pale.blue, 0.55}, 0.6);
            paper_.line(x, y, x, y + 4, grey);
            const std::string words = fmt::format("{:.{}f} s", t, step < 0.01 ? 3 : step < 0.1 ? 2 : step < 1 ? 1 : 0);
            if (x + paper_.text_width(words, 11) < settings_.width - 2) paper_.text(x + 3, y + 9, words, 11, grey);
        }
        paper_.line(left_margin, y, settings_.width - right_margin, y, grey);
        for (const Frames mark : settings_.marks)
            if (mark >= rows_.from && mark <= rows_.to) paper_.line(x_of(mark), y - 9, x_of(mark), y, red, 1.6);
    }

    void place_rows() {
        double y = layout_.rows_top;
        for (const SoundRow& row : rows_.sounds) {
            tops_.push_back(y);
            y += layout_.lane * row.lanes + row_gap;
        }
    }

    /// `frame` 0: straight down from the trigger.
    void link(std::uint64_t cause, Frames frame, double y) {
        const auto found = rows_.causes.find(cause);
        if (found == rows_.causes.end()) return;
        paper_.line(x_of(found->second.frame), y_of(found->second.kind) + 5, x_of(std::max(frame, found->second.frame)),
                    y, faint, 0.8);
    }

    void links() {
        for (std::size_t i = 0; i < rows_.sounds.size(); ++i) {
            for (const Trail& trail : rows_.sounds[i].trails) {
                link(trail.cause, trail.begin, y_of(trail, tops_[i]));
                if (!trail.stolen) link(trail.ended_by, 0, y_of(trail, tops_[i])); // at the frame of what stopped it
            }
            for (const Refusal& refusal : rows_.sounds[i].refusals)
                link(refusal.cause, refusal.frame, tops_[i] + layout_.lane / 2);
        }
    }

    /// Draws thin bars under their triggers; those of one row share its height.
    void spans() {
        for (const ReportKind kind : rows_.kinds) {
            std::vector<Frames> free_from; // of each level
            double free = left_margin;     // for a name that no trigger has
            for (const TimeSpan& span : rows_.spans) {
                if (span.kind != kind) continue;
                auto level =
                    std::find_if(free_from.begin(), free_from.end(), [&](Frames f) { return f <= span.begin; });
                if (level == free_from.end()) level = free_from.insert(free_from.end(), 0);
                *level = span.end;
                const double y =
                    y_of(kind) + 2.5 + 4 * static_cast<double>(std::min<std::ptrdiff_t>(2, level - free_from.begin()));
                const double from = std::max(x_of(span.begin), left_margin);
                paper_.line(from, y, x_of(span.end), y, {wave.red, wave.green, wave.blue, 0.45}, 3.2);
                if (!span.bus.empty()) {
                    const double width = paper_.text_width(span.name, 9.5);
                    if (from < free || from + width > settings_.width - 2) continue;
                    paper_.text(from + 1, y_of(kind) - 11, span.name, 9.5, grey);
                    free = from + width + 4;
                    continue;
                }
                if (kind != ReportKind::run && span.begin >= rows_.from) continue; // its trigger has the name
                if (paper_.text_width(span.name, 9.5) < x_of(span.end) - from)
                    paper_.text(from + 1, y_of(kind) - 11, span.name, 9.5, grey);
            }
        }
    }

    void triggers() {
        for (const ReportKind kind : rows_.kinds) {
            const double y = y_of(kind);
            paper_.line(left_margin, y, settings_.width - right_margin, y, pale, 0.6);
            double free_from = 0;
            for (const auto& [number, cause] : rows_.causes) {
                if (row_for(cause.kind) != kind) continue;
                const double x = x_of(cause.frame);
                paper_.line(x, cause.ends ? y : y - 5, x, y + 5, cause.answered ? black : red, 1.4);
                if (cause.ends) continue; // half a stroke, without a name
                const double wide = paper_.text_width(cause.on, 9.5);
                if (x < free_from || x + wide > settings_.width - 4) continue;
                paper_.text(x + 1, y - 11, cause.on, 9.5, cause.answered ? grey : red);
                free_from = x + wide + 6;
            }
        }
    }

    /// Returns the height, 0 … 1, of the loudest level between two parts of the trail's length.
    static double height_of(const Trail& trail, double from, double to) {
        const double count = static_cast<double>(trail.levels.size());
        float peak = 0;
        for (auto i = static_cast<std::size_t>(from * count); i < trail.levels.size(); ++i) {
            peak = std::max(peak, trail.levels[i]);
            if (static_cast<double>(i + 1) >= to * count) break;
        }
        return peak > 0 ? std::clamp((20 * std::log10(peak) - quietest) / -quietest, 0.0, 1.0) : 0;
    }

    void trail(const Trail& trail, double y) {
        const double x = x_of(trail.begin), reach = layout_.lane / 2 - 1;
        const double pixels = std::clamp(std::ceil(x_of(trail.end) - x), 1.0, 1e5);
        std::vector<double> heights;
        for (double pixel = 0; pixel < pixels; ++pixel)
            heights.push_back(std::max(0.6, reach * height_of(trail, pixel / pixels, (pixel + 1) / pixels)));
        paper_.trail(x, y, heights, trail.stolen ? amber : wave);
        if (!trail.stolen) return;
        const double end = x_of(trail.end) + 2;
        paper_.line(end, y - 4, end, y + 4, amber, 1.8);
        if (layout_.lane >= 24) paper_.text(end + 3, y - 7, "limit", 8.5, amber);
    }

    void sound(const SoundRow& row, double row_top) {
        std::vector<double> free_from(static_cast<std::size_t>(row.lanes), 0);
        for (const Trail& play : row.trails) trail(play, y_of(play, row_top));
        for (std::size_t i = 0; i < row.trails.size(); ++i) {
            const Trail& play = row.trails[i];
            double& free = free_from[static_cast<std::size_t>(play.lane)];
            double next = settings_.width - 4;
            for (std::size_t j = i + 1; j < row.trails.size(); ++j)
                if (row.trails[j].lane == play.lane) {
                    next = x_of(row.trails[j].begin) - 3;
                    break;
                }
            // The label is to the right of the trail if there is room, otherwise over its end.
            if (layout_.lane < 9 && row.lanes > 1) break; // labels would overlap
            const double size = layout_.lane < 15 ? 8.5 : 9.5, wide = paper_.text_width(play.label, size);
            for (const double x : {x_of(play.end) + 5, x_of(play.begin) + 4}) {
                if (x < free || x + wide > next || (x < x_of(play.end) && layout_.lane < 24)) continue;
                paper_.text(x, y_of(play, row_top) + (x < x_of(play.end) ? layout_.lane * 0.3 : 0), play.label, size,
                            play.stolen ? amber : grey);
                free = x + wide;
                break;
            }
        }
        double words_from = 0;
        for (const Refusal& refusal : row.refusals) {
            const double x = x_of(refusal.frame), y = row_top + layout_.lane / 2;
            paper_.cross(x, y, 3.2, red);
            const std::string rule = refusal.rule == Outcome::refused_gap     ? "gap"
                                     : refusal.rule == Outcome::refused_limit ? "limit"
                                                                              : "full";
            if (x < words_from) continue;
            paper_.text(x + 5, y - 7, rule, 9, red);
            words_from = x + paper_.text_width(rule, 9) + 8;
        }
    }

    void names() {
        for (const ReportKind kind : rows_.kinds) paper_.text(16, y_of(kind), row_name(kind), 12, black, true);
        paper_.line(16, layout_.rows_top - 8, settings_.width - right_margin, layout_.rows_top - 8, grey, 0.8);
        for (std::size_t i = 0; i < rows_.sounds.size(); ++i)
            paper_.text(16, tops_[i] + layout_.lane * rows_.sounds[i].lanes / 2, rows_.sounds[i].name, 12, black, true);
    }

    void legend() {
        const double y = layout_.height - 18;
        double x = 16;
        const auto words = [&](const std::string& text) {
            paper_.text(x, y, text, 11, grey);
            x += paper_.text_width(text, 11) + 22;
        };
        paper_.line(x, y - 5, x, y + 5, black, 1.4), x += 7;
        words("trigger");
        paper_.line(x, y - 5, x, y + 5, red, 1.4), x += 7;
        words("trigger, nothing heard");
        paper_.line(x, y - 6, x + 8, y + 6, {faint.red, faint.green, faint.blue, 0.7}), x += 14;
        words("caused");
        paper_.line(x, y + 1, x + 16, y + 1, {wave.red, wave.green, wave.blue, 0.45}, 3.2), x += 21;
        words("lasts");
        paper_.trail(x, y, {1, 4, 6, 5, 4, 3.4, 3, 2.6, 2.2, 2, 1.7, 1.5, 1.2, 1, 0.8, 0.6}, wave), x += 22;
        words(fmt::format("play: measured, {:.0f} to 0 dBFS", quietest));
        paper_.trail(x, y, {1, 4, 6, 5, 4, 3.4, 3, 2.6, 2.2, 2}, amber), x += 12,
            paper_.line(x, y - 4, x, y + 4, amber, 1.8), x += 7;
        words("stolen, by which limit");
        paper_.cross(x + 3, y, 3.2, red), x += 12;
        words("refused, by gap or limit");
        words("label: take, pitch, gain");
        if (settings_.marks.empty()) return;
        paper_.line(x, y - 5, x, y + 4, red, 1.6), x += 7;
        words("bottom row: differences");
    }

    const RehearsalRows& rows_;
    const PictureSettings& settings_;
    const Layout& layout_;
    Paper& paper_;
    std::vector<double> tops_;
};

} // namespace
} // namespace workshop

inline namespace v0 {

namespace {

PictureSettings in_range(PictureSettings settings) {
    settings.width = std::clamp(settings.width, 480, 8000);
    settings.height = std::clamp(settings.height, 320, 8000);
    return settings;
}

/// `length`: draws the run as if it were so long.
workshop::RehearsalRows rows_of(const Rehearsal& rehearsal, const PictureSettings& settings, Frames length) {
    constexpr int most_lanes = 8;
    const auto frames_of = [&](Seconds time) {
        return std::clamp<Frames>(static_cast<Frames>(time.count() * rehearsal.sample_rate), 0, length);
    };
    return workshop::sort_into_rows(rehearsal, frames_of(settings.from),
                                    settings.to.count() > 0 ? frames_of(settings.to) : length, most_lanes);
}

} // namespace

std::string draw_rehearsal(const std::filesystem::path& file, const Rehearsal& rehearsal,
                           const PictureSettings& wanted) {
    const PictureSettings settings = in_range(wanted);
    const workshop::RehearsalRows rows = rows_of(rehearsal, settings, rehearsal.length);
    const workshop::Layout layout(rows, settings.height);
    workshop::Paper paper(settings.width, layout.height);
    workshop::Sheet(rows, settings, layout, paper).draw(rehearsal);
    return paper.save(file);
}

std::string draw_rehearsals(const std::filesystem::path& file, const Rehearsal& before, const Rehearsal& now,
                            const std::pair<std::string, std::string>& titles, const PictureSettings& wanted) {
    PictureSettings settings = in_range(wanted);
    const int half = settings.height / 2;
    const Frames length = std::max(before.length, now.length);
    const workshop::RehearsalRows rows[] = {rows_of(before, settings, length), rows_of(now, settings, length)};
    const workshop::Layout layouts[] = {{rows[0], half}, {rows[1], half}};
    workshop::Paper paper(settings.width, layouts[0].height + layouts[1].height);
    for (const Difference& one : differences(before, now).all)
        settings.marks.push_back(one.kind == Difference::Kind::gone ? one.before.frame : one.now.frame);
    settings.title = titles.first;
    workshop::Sheet(rows[0], settings, layouts[0], paper).draw(before);
    paper.shift(layouts[0].height);
    settings.title = titles.second;
    settings.note.clear();
    workshop::Sheet(rows[1], settings, layouts[1], paper).draw(now);
    return paper.save(file);
}

} // namespace v0
} // namespace kiai
