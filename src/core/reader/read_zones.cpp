// Reads [zone.NAME]: a shape, its order and its scope.
#include "core/model/fill.h"
#include "core/reader/project_reader.h"
#include "core/reader/zone_triggers.h"

namespace kiai::reader {
namespace {

double need(Entry& entry, const char* key) {
    const auto value = entry.number(key);
    if (!value) entry.missing(key, "give all numbers of the shape");
    return value.value_or(0);
}

std::optional<model::Shape> read_polygon(Entry& entry, const Value& corners) {
    const Key any{"polygon", "zone", Takes::number, -1e7, 1e7, "", "", "", "", ""};
    model::Polygon polygon;
    for (const Value& corner : corners.items) {
        if (corner.kind != Value::Kind::list || corner.items.size() != 2) {
            polygon.corners.clear();
            break;
        }
        const auto x = entry.number_of(corner.items[0], any), y = entry.number_of(corner.items[1], any);
        if (!x || !y) return std::nullopt;
        polygon.corners.push_back({*x, *y});
    }
    if (polygon.corners.size() >= 3) return polygon;
    entry.fail(FindingCode::bad_value, corners.source, "a polygon needs three or more corners, each a pair",
               "write polygon = [[0, 0], [10, 0], [5, 8]]");
    return std::nullopt;
}

std::optional<model::Shape> read_shape(Entry& entry) {
    static constexpr const char* kinds[] = {"circle", "ellipse", "rectangle"};
    std::optional<model::Shape> found;
    int shapes = 0;
    for (const char* kind : kinds) {
        const Value* table = entry.table(kind);
        if (!table) continue;
        ++shapes;
        Entry shape(entry, *table, kind, std::string(", ") + kind);
        if (kind == kinds[0]) found = model::Circle{need(shape, "x"), need(shape, "y"), need(shape, "r")};
        if (kind == kinds[1])
            found = model::Ellipse{need(shape, "x"), need(shape, "y"), need(shape, "rx"), need(shape, "ry")};
        if (kind == kinds[2])
            found = model::Rectangle{need(shape, "x"), need(shape, "y"), need(shape, "width"), need(shape, "height")};
        shape.finish();
        entry.close(shape);
    }
    if (const Value* corners = entry.list("polygon")) {
        ++shapes;
        found = read_polygon(entry, *corners);
    }
    if (shapes == 1) return found;
    if (entry.ok())
        entry.fail(FindingCode::missing_key, entry.source(), shapes ? "several shapes" : "no shape",
                   "give one: circle = { x = 0, y = 0, r = 10 }, ellipse = { x = 0, y = 0, rx = 10, ry = 5 }, "
                   "rectangle = { x = 0, y = 0, width = 10, height = 10 } or polygon = [[0, 0], [10, 0], [5, 8]]");
    return std::nullopt;
}

} // namespace

void read_zones(Draft& draft, const Value& section) {
    for (const Member& member : section.members) {
        if (!check_name(draft, member, "zone")) continue;
        draft.zones[member.key] = -1;
        if (!is_table(draft, member, "zone")) continue;
        Entry entry(draft.findings, member.value, {"zone"}, model::fill("zone \"{}\"", member.key), member.key);
        model::Zone zone;
        zone.name = member.key;
        zone.source = member.source;
        zone.order = entry.whole("order").value_or(0);
        zone.through = entry.truth("through").value_or(false);
        zone.scope = read_scope_of(draft, entry);
        auto shape = read_shape(entry);
        for (const auto& trigger : zone_triggers) entry.any(trigger.first); // see read_zone_bindings
        entry.finish();
        if (!entry.ok() || !shape) continue;
        zone.shape = std::move(*shape);
        draft.zones[member.key] = static_cast<int>(draft.project.zones.size());
        draft.project.zones.push_back(std::move(zone));
    }
}

} // namespace kiai::reader
