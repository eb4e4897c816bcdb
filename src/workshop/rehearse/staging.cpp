#include "workshop/rehearse/staging.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>

namespace kiai::workshop {
namespace {

constexpr double first = 0.1, step = 0.05; // seconds

class Stage {
  public:
    Stage(const model::Project& project, const model::Binding& binding, const FireSettings& settings)
        : project_(project), binding_(binding), settings_(settings) {}

    Staged run() {
        turn_on(binding_.scope);
        happen();
        return std::move(staged_);
    }

  private:
    void add(double at, Report report) { staged_.lines.push_back({at, std::nullopt, std::move(report)}); }
    void add(double at, ReportKind kind, const std::string& name = {}) {
        Report report;
        report.kind = kind;
        report.name = name;
        add(at, std::move(report));
    }
    void turn_on(int scope) {
        if (scope >= 0 && !project_.scopes[static_cast<std::size_t>(scope)].on)
            add(0, ReportKind::scope_enter, project_.scopes[static_cast<std::size_t>(scope)].name);
    }
    void point(double at, ReportKind kind, Point where) {
        Report report;
        report.kind = kind;
        report.point = where;
        add(at, std::move(report));
    }

    void in_zone(ReportKind begin, ReportKind end, bool until_end) {
        for (std::size_t z = 0; z < project_.zones.size(); ++z) {
            if (project_.zones[z].name != binding_.name) continue;
            turn_on(project_.zones[z].scope);
            point(first, begin, front_spot(project_, z));
            if (until_end) add(first + step, end);
        }
    }

    void contact() {
        Report report;
        report.kind = ReportKind::contact;
        report.name = binding_.name;
        report.other = binding_.other;
        report.pair = 1;
        report.options.strength = settings_.strength;
        report.options.place = settings_.place;
        add(first, report);
        if (binding_.trigger != ReportKind::contact_end) return;
        report.kind = ReportKind::contact_end;
        add(first + step, report);
    }

    void marker() {
        for (const model::Motion& motion : project_.motions) {
            if (motion.name != binding_.name) continue;
            for (const model::Motion::Marker& marker : motion.markers) {
                if (marker.name != binding_.other || marker.places.empty()) continue;
                Report report;
                report.kind = ReportKind::playhead;
                report.name = motion.name;
                report.value = static_cast<float>(std::max(0.0, marker.places.front() - 0.5));
                add(first, report);
                report.value = static_cast<float>(marker.places.front());
                add(first + step, report);
            }
        }
    }

    /// Returns a value of the dial that satisfies all conditions.
    std::optional<double> value_for(int dial) const {
        const model::Dial& range = project_.dials[static_cast<std::size_t>(dial)];
        std::vector<double> tries{range.start, range.high, range.low, (range.low + range.high) / 2};
        const double little = (range.high - range.low) / 1000;
        std::vector<double> corners;
        for (const model::Clause& clause : binding_.watch)
            if (clause.dial == dial)
                corners.insert(corners.end(), {clause.number, clause.number + little, clause.number - little});
        for (const double a : corners)
            for (const double b : corners) tries.push_back((a + b) / 2);
        for (const double value : tries) {
            const bool holds = std::all_of(binding_.watch.begin(), binding_.watch.end(), [&](const auto& clause) {
                return clause.dial != dial || clause.holds(value);
            });
            if (holds && value >= range.low && value <= range.high) return value;
        }
        return std::nullopt;
    }

    void watch() {
        for (const model::Clause& clause : binding_.watch) {
            const model::Dial& dial = project_.dials[static_cast<std::size_t>(clause.dial)];
            const auto value = value_for(clause.dial);
            if (!value) {
                staged_.impossible = fmt::format("{} is impossible: {} ranges from {:g} to {:g}",
                                                 model::to_string(clause), dial.name, dial.low, dial.high);
                return;
            }
            Report report;
            report.kind = ReportKind::dial;
            report.name = dial.name;
            report.value = static_cast<float>(*value);
            add(first, report);
        }
    }

    void ended() {
        add(first, ReportKind::play, binding_.name);
        for (const model::Sound& sound : project_.sounds)
            if (sound.name == binding_.name && sound.endless()) add(first + 1, ReportKind::stop, binding_.name);
        staged_.latest = Seconds(60);
    }

    void scope() {
        const bool leaves = binding_.trigger == ReportKind::scope_leave;
        for (const model::Scope& one : project_.scopes)
            if (one.name == binding_.name && one.on != leaves)
                add(0, leaves ? ReportKind::scope_enter : ReportKind::scope_leave, one.name);
        add(first, binding_.trigger, binding_.name);
    }

    void happen() {
        switch (binding_.trigger) {
        case ReportKind::press:
            return in_zone(ReportKind::press, ReportKind::release, false);
        case ReportKind::release:
            return in_zone(ReportKind::press, ReportKind::release, true);
        case ReportKind::enter:
            return in_zone(ReportKind::pointer, ReportKind::pointer_gone, false);
        case ReportKind::leave:
            return in_zone(ReportKind::pointer, ReportKind::pointer_gone, true);
        case ReportKind::key_up:
            add(first, ReportKind::key_down, binding_.name);
            return add(first + step, ReportKind::key_up, binding_.name);
        case ReportKind::key_down:
            return add(first, ReportKind::key_down, binding_.name);
        case ReportKind::notice: {
            Report report;
            report.name = binding_.name;
            report.values = settings_.values;
            return add(first, std::move(report));
        }
        case ReportKind::contact:
        case ReportKind::contact_end:
            return contact();
        case ReportKind::marker:
            return marker();
        case ReportKind::watch:
            return watch();
        case ReportKind::ended:
            return ended();
        case ReportKind::scope_enter:
        case ReportKind::scope_leave:
            return scope();
        case ReportKind::after:
        case ReportKind::every:
            staged_.latest =
                Seconds(static_cast<double>(binding_.time.frames(settings_.sample_rate)) / settings_.sample_rate + 1);
            return;
        default: // start: it comes by itself
            return;
        }
    }

    const model::Project& project_;
    const model::Binding& binding_;
    const FireSettings& settings_;
    Staged staged_;
};

} // namespace

Staged stage(const model::Project& project, const model::Binding& binding, const FireSettings& settings) {
    return Stage(project, binding, settings).run();
}

Staged stage(Point point, ReportKind kind) {
    Staged staged;
    Report report;
    report.kind = kind == ReportKind::enter ? ReportKind::pointer : kind;
    report.point = point;
    staged.lines.push_back({first, std::nullopt, report});
    return staged;
}

Point front_spot(const model::Project& project, std::size_t zone) {
    constexpr int spots = 64;
    const model::Zone& wanted = project.zones[zone];
    const model::Box box = model::box_of(wanted.shape);
    const model::Spot middle = box.middle();
    std::vector<const model::Zone*> fronts;
    for (std::size_t f = 0; f < project.zones.size(); ++f) {
        const model::Zone& other = project.zones[f];
        const bool before = other.order != wanted.order ? other.order > wanted.order : f > zone;
        const bool there =
            other.scope < 0 || other.scope == wanted.scope || project.scopes[static_cast<std::size_t>(other.scope)].on;
        const model::Box meets = model::box_of(other.shape);
        if (f != zone && before && there && !other.through && meets.left <= box.right && meets.right >= box.left &&
            meets.top <= box.bottom && meets.bottom >= box.top)
            fronts.push_back(&other);
    }
    model::Spot best = middle;
    double least = std::numeric_limits<double>::infinity();
    for (int i = 0; i <= spots * spots; ++i) { // the last is the middle itself
        const model::Spot spot = i == spots * spots
                                     ? middle
                                     : model::Spot{box.left + (i % spots + 0.5) / spots * (box.right - box.left),
                                                   box.top + (i / spots + 0.5) / spots * (box.bottom - box.top)};
        const double away = std::hypot(spot.x - middle.x, spot.y - middle.y);
        if (away >= least || !model::inside(wanted.shape, spot)) continue;
        const bool hidden = std::any_of(fronts.begin(), fronts.end(),
                                        [&](const model::Zone* front) { return model::inside(front->shape, spot); });
        if (!hidden) best = spot, least = away;
    }
    return {static_cast<float>(best.x), static_cast<float>(best.y)};
}

} // namespace kiai::workshop
