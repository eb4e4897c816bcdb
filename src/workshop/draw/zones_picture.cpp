// Draws zones as outlines.
#include "core/model/project.h"
#include "workshop/draw/paper.h"

#include <kiai/workshop/picture.h>

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace kiai {
namespace workshop {
namespace {

using Points = std::vector<std::pair<double, double>>;

constexpr double top = 84, margin = 24, bottom = 46, apart = 28;
constexpr Ink ground{0.20, 0.36, 0.44, 0.07};
constexpr int round = 72; ///< corners that a circle is drawn with

Points outline_of(const model::Shape& shape) {
    Points points;
    const auto around = [&](double x, double y, double rx, double ry) {
        for (int i = 0; i < round; ++i) {
            const double turn = 2 * std::numbers::pi * i / round;
            points.emplace_back(x + rx * std::cos(turn), y + ry * std::sin(turn));
        }
    };
    if (const auto* c = std::get_if<model::Circle>(&shape)) around(c->x, c->y, c->r, c->r);
    if (const auto* e = std::get_if<model::Ellipse>(&shape)) around(e->x, e->y, e->rx, e->ry);
    if (const auto* r = std::get_if<model::Rectangle>(&shape))
        points = {{r->x, r->y}, {r->x + r->width, r->y}, {r->x + r->width, r->y + r->height}, {r->x, r->y + r->height}};
    if (const auto* p = std::get_if<model::Polygon>(&shape))
        for (const model::Spot& corner : p->corners) points.emplace_back(corner.x, corner.y);
    return points;
}

/// The zones of one scope, and those without a scope.
struct Panel {
    std::string title, scope;
    std::vector<const model::Zone*> zones; ///< from back to front
};

std::vector<Panel> panels_of(const model::Project& project) {
    std::vector<Panel> panels;
    for (int scope = -1; scope < static_cast<int>(project.scopes.size()); ++scope) {
        Panel panel;
        const bool none = scope < 0;
        panel.scope = none ? "" : project.scopes[static_cast<std::size_t>(scope)].name;
        panel.title = none ? "in no scope" : "scope " + panel.scope;
        bool own = none;
        for (const model::Zone& zone : project.zones) {
            if (zone.scope >= 0 && zone.scope != scope) continue;
            panel.zones.push_back(&zone);
            own = own || zone.scope == scope;
        }
        std::stable_sort(panel.zones.begin(), panel.zones.end(),
                         [](const model::Zone* a, const model::Zone* b) { return a->order < b->order; });
        if (own && !panel.zones.empty()) panels.push_back(std::move(panel));
    }
    return panels;
}

model::Box around(const std::vector<Panel>& panels, const std::vector<ZonePress>& presses) {
    model::Box all = model::box_of(panels[0].zones[0]->shape);
    const auto take = [&](const model::Box& box) {
        all = {std::min(all.left, box.left), std::min(all.top, box.top), std::max(all.right, box.right),
               std::max(all.bottom, box.bottom)};
    };
    for (const Panel& panel : panels)
        for (const model::Zone* zone : panel.zones) take(model::box_of(zone->shape));
    for (const ZonePress& press : presses) take({press.point.x, press.point.y, press.point.x, press.point.y});
    return all;
}

class Sheet {
  public:
    Sheet(const model::Project& project, const ZonePicture& picture)
        : panels_(panels_of(project)), picture_(picture), height_(place()), paper_(picture.width, height_) {}

    std::string draw(const std::filesystem::path& file) {
        paper_.text(16, 24, picture_.title.empty() ? "Zones" : picture_.title, 17, black, true);
        if (panels_.empty()) paper_.text(16, 60, "this project has no zones", 12, grey);
        for (std::size_t p = 0; p < panels_.size(); ++p) panel(p);
        legend();
        return paper_.save(file);
    }

  private:
    /// Returns the height that the picture needs, at most its maximum.
    int place() {
        if (panels_.empty()) return picture_.height;
        all_ = around(panels_, picture_.presses);
        const double wide = std::max(1e-9, all_.right - all_.left), high = std::max(1e-9, all_.bottom - all_.top);
        // Chooses the number of columns that makes the panels largest.
        for (int columns = 1; columns <= static_cast<int>(panels_.size()); ++columns) {
            const int rows = (static_cast<int>(panels_.size()) + columns - 1) / columns;
            const double width = (picture_.width - 2 * margin - apart * (columns - 1)) / columns,
                         height = (picture_.height - top - bottom) / rows - apart;
            const double scale = std::min(width / wide, height / high);
            if (scale <= scale_) continue;
            scale_ = scale, columns_ = columns, cell_width_ = width + apart;
        }
        cell_height_ = high * scale_ + apart;
        const int rows = (static_cast<int>(panels_.size()) + columns_ - 1) / columns_;
        return std::min(picture_.height, static_cast<int>(top + cell_height_ * rows + bottom));
    }

    std::pair<double, double> at(std::size_t panel, double x, double y) const {
        const int number = static_cast<int>(panel), column = number % columns_, row = number / columns_;
        return {margin + column * cell_width_ + (x - all_.left) * scale_,
                top + row * cell_height_ + (y - all_.top) * scale_};
    }

    void panel(std::size_t p) {
        const Panel& panel = panels_[p];
        const auto [x, y] = at(p, all_.left, all_.top);
        paper_.text(x, y - 20, panel.title, 12, black, true);
        for (const model::Zone* zone : panel.zones) {
            Points points = outline_of(zone->shape);
            for (auto& point : points) point = at(p, point.first, point.second);
            const bool covered = picture_.covered.contains(zone->name);
            paper_.outline(points, covered ? red : wave, zone->through ? 0.7 : 1.3, ground);
        }
        presses(p);
        for (const model::Zone* zone : panel.zones) label(p, *zone);
    }

    /// Draws the order number and the name of a zone, inside its upper left.
    void label(std::size_t p, const model::Zone& zone) {
        const bool covered = picture_.covered.contains(zone.name);
        const model::Box box = model::box_of(zone.shape);
        const bool upright = std::holds_alternative<model::Rectangle>(zone.shape);
        const auto [left, over] = at(p, box.left, box.top);
        const auto [middle, centre] = at(p, box.middle().x, box.middle().y);
        const std::string number = std::to_string(zone.order), name = zone.name + (zone.through ? " (through)" : "");
        const double wide = paper_.text_width(number, 12, true) + 5 + paper_.text_width(name, 10.5);
        const auto [right, under] = at(p, box.right, box.bottom);
        const bool fits = wide + 8 < right - left;
        const double x = !fits ? right + 6 : upright ? left + 6 : middle - wide / 2;
        const double y = !fits || under - over < 50 ? centre : upright ? over + 12 : over + 0.28 * (under - over);
        paper_.text(x, y, number, 12, covered ? red : black, true);
        paper_.text(x + paper_.text_width(number, 12, true) + 5, y, name + (covered ? ": covered" : ""), 10.5,
                    covered ? red : grey);
    }

    void presses(std::size_t p) {
        for (std::size_t i = 0; i < picture_.presses.size(); ++i) {
            const ZonePress& press = picture_.presses[i];
            if (!press.scope.empty() && press.scope != panels_[p].scope) continue;
            const auto [x, y] = at(p, press.point.x, press.point.y);
            const Ink ink = press.zone.empty() ? red : black;
            const bool last = i + 1 == picture_.presses.size();
            paper_.cross(x, y, last ? 6 : 3, ink);
            if (!last) continue;
            const std::string words = press.zone.empty() ? "last press: no zone" : "last press: " + press.zone;
            paper_.text(x + 11, y - 12, words, 10.5, ink, true);
        }
    }

    void legend() {
        const double y = height_ - 18;
        double x = 16;
        const auto words = [&](const std::string& text) {
            paper_.text(x, y, text, 11, grey);
            x += paper_.text_width(text, 11) + 22;
        };
        paper_.text(x, y, "2", 12, black, true), x += 14;
        words("order: higher is in front, ties the later one");
        paper_.outline({{x, y - 6}, {x + 16, y - 6}, {x + 16, y + 6}, {x, y + 6}}, wave, 1.3, ground), x += 22;
        words("darker: zones overlap");
        paper_.cross(x + 3, y, 3, black), x += 12;
        words("press");
        paper_.cross(x + 3, y, 3, red), x += 12;
        words("press that met no zone");
        if (picture_.covered.empty()) return;
        paper_.outline({{x, y - 6}, {x + 16, y - 6}, {x + 16, y + 6}, {x, y + 6}}, red, 1.3, ground), x += 22;
        words("covered entirely, so never pressed");
    }

    std::vector<Panel> panels_;
    const ZonePicture& picture_;
    model::Box all_{};
    double scale_ = 0, cell_width_ = 0, cell_height_ = 0;
    int columns_ = 1;
    int height_;
    Paper paper_;
};

/// Draws the zones on a picture of the app, in place.
std::string draw_over(const std::filesystem::path& file, const model::Project& project, const ZonePicture& picture) {
    const auto size = size_of_png(picture.over);
    if (!size) return picture.over.string() + " is no PNG that can be read";
    Paper paper(size->first, size->second);
    paper.image(picture.over);
    std::vector<const model::Zone*> zones;
    for (const model::Zone& zone : project.zones)
        if (zone.scope < 0 || project.scopes[static_cast<std::size_t>(zone.scope)].name == picture.scope ||
            picture.scope.empty())
            zones.push_back(&zone);
    std::stable_sort(zones.begin(), zones.end(), [](const auto* a, const auto* b) { return a->order < b->order; });
    for (const model::Zone* zone : zones)
        paper.outline(outline_of(zone->shape), picture.covered.contains(zone->name) ? red : wave, 1.6, ground);
    for (const model::Zone* zone : zones) {
        const model::Box box = model::box_of(zone->shape);
        const std::string number = std::to_string(zone->order);
        const double wide = paper.text_width(number, 12, true) + 5 + paper.text_width(zone->name, 10.5);
        const double x = std::clamp(box.middle().x - wide / 2, 4.0, std::max(4.0, size->first - wide - 4));
        paper.text(x, box.middle().y, number, 12, black, true);
        paper.text(x + paper.text_width(number, 12, true) + 5, box.middle().y, zone->name, 10.5, black);
    }
    for (const ZonePress& press : picture.presses)
        paper.cross(press.point.x, press.point.y, 4, press.zone.empty() ? red : black);
    return paper.save(file);
}

} // namespace
} // namespace workshop

inline namespace v0 {

std::string draw_zones(const std::filesystem::path& file, const Project& project, const ZonePicture& wanted) {
    if (!wanted.over.empty()) return workshop::draw_over(file, project.data(), wanted);
    ZonePicture picture = wanted;
    picture.width = std::clamp(picture.width, 480, 8000);
    picture.height = std::clamp(picture.height, 320, 8000);
    return workshop::Sheet(project.data(), picture).draw(file);
}

std::vector<ZoneOutline> outlines_of(const Project& project) {
    std::vector<ZoneOutline> outlines;
    const model::Project& data = project.data();
    for (const model::Zone& zone : data.zones) {
        ZoneOutline& outline = outlines.emplace_back();
        outline.name = zone.name;
        if (zone.scope >= 0) outline.scope = data.scopes[static_cast<std::size_t>(zone.scope)].name;
        outline.order = zone.order;
        for (const auto& [x, y] : workshop::outline_of(zone.shape))
            outline.points.push_back({static_cast<float>(x), static_cast<float>(y)});
    }
    std::stable_sort(outlines.begin(), outlines.end(),
                     [](const ZoneOutline& a, const ZoneOutline& b) { return a.order < b.order; });
    return outlines;
}

std::vector<ZonePress> presses_of(const Project& project, const Rehearsal& rehearsal) {
    std::vector<ZonePress> presses;
    std::uint64_t last = 0;
    std::string scope; // the last one that turned on, of those that have zones
    for (const Decision& decision : rehearsal.decisions) {
        if (decision.trigger == ReportKind::scope_enter && decision.outcome != Outcome::same_state &&
            decision.outcome != Outcome::ended)
            for (const model::Zone& zone : project.data().zones)
                if (zone.scope >= 0 && project.data().scopes[static_cast<std::size_t>(zone.scope)].name == decision.on)
                    scope = decision.on;
        if (decision.trigger != ReportKind::press || decision.outcome == Outcome::ended || decision.cause == last ||
            decision.outcome == Outcome::same_state)
            continue;
        last = decision.cause;
        presses.push_back({decision.point, decision.on, scope});
    }
    return presses;
}

} // namespace v0
} // namespace kiai
