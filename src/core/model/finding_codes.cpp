// The name and the usual severity of each kind of finding.
#include <kiai/finding.h>

#include <array>

namespace kiai::inline v0 {
namespace {

struct Row {
    FindingCode code;
    const char* name;
    Severity severity;
    bool running = false; ///< a running engine reports it
};

using enum FindingCode;
constexpr auto rows = std::to_array<Row>({
    {no_project, "no-project", Severity::error},
    {toml_syntax, "toml-syntax", Severity::error},
    {unknown_format, "unknown-format", Severity::error},
    {unknown_key, "unknown-key", Severity::error},
    {wrong_type, "wrong-type", Severity::error},
    {bad_value, "bad-value", Severity::error},
    {bad_name, "bad-name", Severity::error},
    {missing_key, "missing-key", Severity::error},
    {unknown_name, "unknown-name", Severity::error},
    {empty_series, "empty-series", Severity::error},
    {series_gap, "series-gap", Severity::warning},
    {file_missing, "file-missing", Severity::error},
    {file_unreadable, "file-unreadable", Severity::error},
    {file_empty, "file-empty", Severity::error},
    {file_not_finite, "file-not-finite", Severity::error},
    {file_channels, "file-channels", Severity::error},
    {file_outside, "file-outside", Severity::error},
    {unknown_key_code, "unknown-key-code", Severity::error, true},
    {unused_clip, "unused-clip", Severity::note},
    {unbound_sound, "unbound-sound", Severity::note},
    {idle_zone, "idle-zone", Severity::note},
    {no_trace, "no-trace", Severity::error},
    {trace_line, "trace-line", Severity::error},
    {permission_denied, "permission-denied", Severity::error},
    {file_too_long, "file-too-long", Severity::error},
    {file_cut_short, "file-cut-short", Severity::warning},
    {file_folded, "file-folded", Severity::note},
    {clip_silent, "clip-silent", Severity::warning},
    {clip_clipped, "clip-clipped", Severity::warning},
    {dc_offset, "dc-offset", Severity::warning},
    {leading_silence, "leading-silence", Severity::warning},
    {clip_too_loud, "clip-too-loud", Severity::warning},
    {take_level, "take-level", Severity::warning},
    {loop_clicks, "loop-clicks", Severity::warning},
    {same_content, "same-content", Severity::warning},
    {unregistered_file, "unregistered-file", Severity::note},
    {no_credit, "no-credit", Severity::note},
    {unknown_licence, "unknown-licence", Severity::warning},
    {no_author, "no-author", Severity::warning},
    {unknown_folder, "unknown-folder", Severity::warning},
    {unused_acceptance, "unused-acceptance", Severity::note},
    {not_editable, "not-editable", Severity::error},
    {not_written, "not-written", Severity::error},
    {name_taken, "name-taken", Severity::error},
    {still_used, "still-used", Severity::error},
    {pending_entry, "pending-entry", Severity::note},
    {no_loop_points, "no-loop-points", Severity::warning},
    {loop_outside, "loop-outside", Severity::warning},
    {bus_circle, "bus-circle", Severity::error},
    {load_cancelled, "load-cancelled", Severity::error},
    {not_given, "not-given", Severity::warning},
    {few_takes, "few-takes", Severity::note},
    {unused_entry, "unused-entry", Severity::note},
    {covered_zone, "covered-zone", Severity::warning},
    {trace_misfit, "trace-misfit", Severity::warning},
    {every_frame, "every-frame", Severity::warning, true},
    {play_and_stop, "play-and-stop", Severity::warning, true},
    {loop_unended, "loop-unended", Severity::warning, true},
    {idle_wait, "idle-wait", Severity::note},
    {no_variation, "no-variation", Severity::note, true},
    {pointer_at_origin, "pointer-at-origin", Severity::warning, true},
    {clip_beside_sound, "clip-beside-sound", Severity::warning},
    {overlap_grows, "overlap-grows", Severity::note, true},
    {nothing_bound, "nothing-bound", Severity::note, true},
    {no_log, "no-log", Severity::error},
    {log_line, "log-line", Severity::error},
    {no_expectations, "no-expectations", Severity::error},
    {callback_threw, "callback-threw", Severity::warning, true},
    {input_unended, "input-unended", Severity::warning, true},
    {no_device, "no-device", Severity::warning, true},
    {dead_stop, "dead-stop", Severity::note},
    {outlives_scope, "outlives-scope", Severity::warning},
    {endless_cascade, "endless-cascade", Severity::error},
    {too_many, "too-many", Severity::error},
    {near_limit, "near-limit", Severity::warning, true},
    {other_unit, "other-unit", Severity::note},
    {pack_damaged, "pack-damaged", Severity::error},
});

const Row* row_of(FindingCode code) noexcept {
    for (const Row& row : rows)
        if (row.code == code) return &row;
    return nullptr;
}

} // namespace

const std::vector<FindingCode>& all_finding_codes() {
    static const std::vector<FindingCode> all = [] {
        std::vector<FindingCode> codes;
        for (const Row& row : rows) codes.push_back(row.code);
        return codes;
    }();
    return all;
}

const char* to_string(FindingCode code) noexcept {
    const Row* row = row_of(code);
    return row ? row->name : "finding";
}

Severity usual_severity(FindingCode code) noexcept {
    const Row* row = row_of(code);
    return row ? row->severity : Severity::error;
}

bool found_running(FindingCode code) noexcept {
    const Row* row = row_of(code);
    return row && row->running;
}

} // namespace kiai::inline v0
