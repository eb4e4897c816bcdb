// Reads [scope.NAME] and [motion.NAME].
#include "core/model/fill.h"
#include "core/reader/project_reader.h"

namespace kiai::reader {
namespace {

/// Reads one frame of a motion, or a list of frames.
std::vector<double> read_places(Entry& entry, const Member& marker, const model::Motion& motion) {
    const bool list = marker.value.kind == Value::Kind::list;
    std::vector<double> places;
    for (std::size_t i = 0; i < (list ? marker.value.items.size() : 1); ++i) {
        const Value& one = list ? marker.value.items[i] : marker.value;
        if (one.kind == Value::Kind::number && one.number >= 0 && one.number < motion.frames) {
            places.push_back(one.number);
            continue;
        }
        entry.fail(FindingCode::bad_value, one.source,
                   one.kind == Value::Kind::number
                       ? model::fill("marker \"{}\" at {} is outside of the motion", marker.key, one.number)
                       : model::fill("marker \"{}\" is at {}", marker.key, kind_name(one.kind)),
                   model::fill("a marker is at a frame from 0 to below {}", motion.frames));
    }
    return places;
}

void read_markers(Entry& entry, model::Motion& motion) {
    const Value* markers = entry.table("markers");
    if (!markers || markers->members.empty()) return entry.missing("markers", "write markers = { turn = [0, 20] }");
    for (const Member& marker : markers->members) {
        if (!good_name(marker.key))
            entry.fail(FindingCode::bad_name, marker.source, model::fill("\"{}\" cannot name a marker", marker.key),
                       "use a-z, 0-9, - and _, at most 64 of them");
        motion.markers.push_back({marker.key, read_places(entry, marker, motion)});
    }
}

} // namespace

int read_scope_of(Draft& draft, Entry& entry) {
    const Value* scope = entry.any("scope");
    if (!scope) return -1;
    const auto found = look_up(entry, *scope, draft.scopes, "scope");
    if (!found) entry.leave_out();
    return found.value_or(-1);
}

void read_scopes(Draft& draft, const Value& section) {
    for (const Member& member : section.members) {
        if (!check_name(draft, member, "scope")) continue;
        draft.scopes[member.key] = -1;
        if (!is_table(draft, member, "scope")) continue;
        Entry entry(draft.findings, member.value, {"scope"}, model::fill("scope \"{}\"", member.key), member.key);
        model::Scope scope;
        scope.name = member.key;
        scope.source = member.source;
        scope.on = entry.truth("on").value_or(false);
        scope.fade = entry.duration("fade").value_or(scope.fade);
        entry.finish();
        if (!entry.ok()) continue;
        draft.scopes[member.key] = static_cast<int>(draft.project.scopes.size());
        draft.project.scopes.push_back(std::move(scope));
    }
}

void read_motions(Draft& draft, const Value& section) {
    for (const Member& member : section.members) {
        if (!check_name(draft, member, "motion")) continue;
        draft.motions[member.key] = -1;
        if (!is_table(draft, member, "motion")) continue;
        Entry entry(draft.findings, member.value, {"motion"}, model::fill("motion \"{}\"", member.key), member.key);
        model::Motion motion;
        motion.name = member.key;
        motion.source = member.source;
        const auto frames = entry.whole("frames");
        if (!frames) entry.missing("frames", "write the length: frames = 60");
        motion.frames = frames.value_or(1);
        motion.rate = entry.number("rate").value_or(motion.rate);
        motion.backwards = entry.truth("backwards").value_or(false);
        if (frames) read_markers(entry, motion);
        entry.finish();
        if (!entry.ok()) continue;
        draft.motions[member.key] = static_cast<int>(draft.project.motions.size());
        draft.project.motions.push_back(std::move(motion));
    }
}

} // namespace kiai::reader
