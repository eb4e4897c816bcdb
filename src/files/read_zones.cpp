// [zone.NAME]: a circle or a rectangle, and its order.
#include "files/project_reader.h"

#include <fmt/format.h>

namespace kiai::files {
namespace {

double need(Entry& entry, const char* key) {
    const auto value = entry.number(key);
    if (!value) entry.missing(key, "give all numbers of the shape");
    return value.value_or(0);
}

void read_shape(Entry& entry, const Value* circle, const Value* rectangle, model::Zone& zone) {
    if ((circle != nullptr) == (rectangle != nullptr)) {
        if (entry.ok())
            entry.fail(
                FindingCode::missing_key, entry.source(), circle ? "it has two shapes" : "it has no shape",
                "give one: circle = { x = 0, y = 0, r = 10 } or rectangle = { x = 0, y = 0, width = 10, height = 10 }");
        return;
    }
    Entry shape(entry, circle ? *circle : *rectangle, circle ? "circle" : "rectangle",
                circle ? ", circle" : ", rectangle");
    if (circle) {
        zone.round = true;
        zone.circle = {need(shape, "x"), need(shape, "y"), need(shape, "r")};
    } else {
        zone.rectangle = {need(shape, "x"), need(shape, "y"), need(shape, "width"), need(shape, "height")};
    }
    shape.finish();
    entry.close(shape);
}

} // namespace

void read_zones(Draft& draft, const Value& section) {
    for (const Member& member : section.members) {
        if (!check_name(draft, member, "zone")) continue;
        draft.zones[member.key] = -1;
        if (!is_table(draft, member, "zone")) continue;
        Entry entry(draft.findings, member.value, {"zone"}, fmt::format("zone \"{}\"", member.key), member.key);
        model::Zone zone;
        zone.name = member.key;
        zone.source = member.source;
        const Value *circle = entry.table("circle"), *rectangle = entry.table("rectangle");
        zone.order = entry.whole("order").value_or(0);
        read_shape(entry, circle, rectangle, zone);
        entry.finish();
        if (!entry.ok()) continue;
        draft.zones[member.key] = static_cast<int>(draft.project.zones.size());
        draft.project.zones.push_back(std::move(zone));
    }
}

} // namespace kiai::files
