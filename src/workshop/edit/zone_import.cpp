// Makes zones of a drawing.
#include <kiai/workshop/zone_import.h>

#include "core/model/number_text.h"
#include "core/reader/entry.h"
#include "workshop/edit/editing.h"
#include "workshop/edit/svg.h"

#include <kiai/workshop/add.h>

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <fstream>
#include <set>

namespace kiai::inline v0 {
namespace {

namespace fs = std::filesystem;
using namespace workshop;

constexpr std::size_t most_bytes = 16u << 20;
constexpr const char* shape_keys[] = {"circle", "ellipse", "rectangle", "polygon"};

/// A number of pixels, to a hundredth.
std::string pixels(double value) {
    const double rounded = std::round(value * 100) / 100;
    return model::shortest(rounded == 0 ? 0 : rounded);
}

const char* key_of(const SvgShape& shape) {
    return shape_keys[static_cast<int>(shape.kind)];
}

/// The value of the shape's key in kiai.toml.
std::string value_of(const SvgShape& shape) {
    switch (shape.kind) {
    case SvgShape::Kind::circle:
        return fmt::format("{{ x = {}, y = {}, r = {} }}", pixels(shape.x), pixels(shape.y), pixels(shape.width));
    case SvgShape::Kind::ellipse:
        return fmt::format("{{ x = {}, y = {}, rx = {}, ry = {} }}", pixels(shape.x), pixels(shape.y),
                           pixels(shape.width), pixels(shape.height));
    case SvgShape::Kind::rectangle:
        return fmt::format("{{ x = {}, y = {}, width = {}, height = {} }}", pixels(shape.x), pixels(shape.y),
                           pixels(shape.width), pixels(shape.height));
    default:
        break;
    }
    std::string text;
    for (const auto& [x, y] : shape.corners)
        text += fmt::format("{}[{}, {}]", text.empty() ? "" : ", ", pixels(x), pixels(y));
    return "[" + text + "]";
}

/// Adds the zone, or gives an existing one the new shape and order.
void put(Document& toml, const SvgShape& shape, const ZoneImportOptions& options, ImportedZone& zone) {
    const std::string key = key_of(shape), value = value_of(shape), order = std::to_string(zone.order);
    const reader::Value* zones = toml.root().find("zone");
    const reader::Value* known = zones ? zones->find(zone.name) : nullptr;
    const Place place{std::string("zone"), zone.name};
    if (!known) {
        std::string text = fmt::format("[zone.{}]\n{} = {}\norder = {}\n", zone.name, key, value, order);
        if (!options.scope.empty()) text += fmt::format("scope = {}\n", toml_text(options.scope));
        toml.append(text);
        zone.outcome = ImportedZone::Outcome::added;
        return;
    }
    const reader::Value before = *known;
    const auto within = [&](const char* name) {
        Place inner = place;
        inner.emplace_back(std::string(name));
        return inner;
    };
    std::vector<Document::NewEntry> fresh;
    for (const char* other : shape_keys)
        if (other != key && before.find(other)) toml.remove(within(other));
    if (before.find(key))
        toml.set_value(within(key.c_str()), value);
    else
        fresh.emplace_back(key, value);
    if (before.find("order"))
        toml.set_value(within("order"), order);
    else
        fresh.emplace_back("order", order);
    if (!fresh.empty()) toml.add(place, fresh);
    const bool same = same_meaning(before, *toml.root().find("zone")->find(zone.name));
    zone.outcome = same ? ImportedZone::Outcome::same : ImportedZone::Outcome::changed;
}

} // namespace

ZoneImport import_zones(const fs::path& folder, const fs::path& drawing, const ZoneImportOptions& options) {
    ZoneImport result;
    std::ifstream file(drawing, std::ios::binary);
    std::string text(most_bytes + 1, '\0');
    file.read(text.data(), static_cast<std::streamsize>(text.size()));
    text.resize(static_cast<std::size_t>(std::max<std::streamsize>(0, file.gcount())));
    const auto refuse_file = [&](const std::string& why, const std::string& fix) {
        result.edited.findings.push_back(Finding{FindingCode::file_unreadable,
                                                 Severity::error,
                                                 drawing.string(),
                                                 0,
                                                 0,
                                                 "the drawing cannot be read: " + why,
                                                 fix,
                                                 {},
                                                 {},
                                                 {},
                                                 0});
    };
    if (!file.is_open()) return refuse_file("missing file, or no permission", "name an SVG file"), result;
    if (text.size() > most_bytes)
        return refuse_file("it is larger than 16 MiB", "save the shapes in a file of their own"), result;
    const SvgDrawing read = read_svg(text, std::clamp(options.tolerance, 0.01, 100.0));
    if (!read.error.empty()) return refuse_file(read.error, "export the drawing as plain SVG"), result;
    const auto change = [&](Document& toml, EditResult& edited) {
        const reader::Value* scopes = toml.root().find("scope");
        if (!options.scope.empty() && !(scopes && scopes->find(options.scope)))
            return refuse(edited, folder, FindingCode::unknown_name, {},
                          fmt::format("unknown scope \"{}\"", options.scope), "`kiai list scopes` prints all");
        if (!options.unnamed.empty() && !reader::good_name(options.unnamed + "-1"))
            return refuse(edited, folder, FindingCode::bad_name, {},
                          fmt::format("\"{}\" cannot name a zone", options.unnamed),
                          "use a-z, 0-9, - and _, at most 62 of them");
        std::set<std::string> seen;
        int order = 0, number = 0;
        for (const SvgShape& shape : read.shapes) {
            ++order;
            ImportedZone zone;
            zone.name = shape.name.empty() ? std::string() : clip_name(shape.name + ".svg");
            if (zone.name.empty() && !options.unnamed.empty())
                zone.name = fmt::format("{}-{}", options.unnamed, ++number);
            if (zone.name.empty()) {
                ++result.unnamed;
                continue;
            }
            zone.shape = key_of(shape);
            zone.corners = static_cast<int>(shape.corners.size());
            zone.order = order;
            if (!shape.fault.empty())
                zone.why = shape.fault, zone.fix = "draw one closed outline";
            else if (!seen.insert(zone.name).second)
                zone.why = "another shape has this name", zone.fix = "give each shape a name of its own";
            else
                put(toml, shape, options, zone);
            result.zones.push_back(std::move(zone));
        }
    };
    result.edited = options.dry_run ? try_edit(folder, change) : edit_project(folder, change);
    return result;
}

} // namespace kiai::inline v0
