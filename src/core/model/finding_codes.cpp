// The name, the usual severity and the meaning of each kind of finding.
#include <kiai/finding.h>

#include <array>

namespace kiai::inline v0 {
namespace {

struct Row {
    FindingCode code;
    const char* name;
    Severity severity;
    const char* meaning;
    bool running = false; ///< a running engine reports it
};

using enum FindingCode;
constexpr auto rows = std::to_array<Row>({
    {no_project, "no-project", Severity::error,
     "kiai.toml is missing or cannot be read. Name the folder that contains it."},
    {toml_syntax, "toml-syntax", Severity::error,
     "kiai.toml is not valid TOML. Fix the line; the rest of the file is checked afterwards."},
    {unknown_format, "unknown-format", Severity::error, "`format` names a version that this library does not support."},
    {unknown_key, "unknown-key", Severity::error,
     "The entry has a key that Kiai does not know: a typing error, or a key of another kind of entry."},
    {wrong_type, "wrong-type", Severity::error, "A value has the wrong type, such as a text in place of a number."},
    {bad_value, "bad-value", Severity::error, "A value is out of range."},
    {bad_name, "bad-name", Severity::error,
     "A name contains other characters than a-z 0-9 - _, or is longer than 64 characters."},
    {missing_key, "missing-key", Severity::error, "A required key is missing."},
    {unknown_name, "unknown-name", Severity::error,
     "No entry of the project has this name. Names are compared exactly."},
    {empty_series, "empty-series", Severity::error, "No clip belongs to the series."},
    {series_gap, "series-gap", Severity::warning,
     "A number is missing in a series. Register the file, or renumber the clips."},
    {file_missing, "file-missing", Severity::error,
     "The clip's file does not exist: it was moved or renamed, or its path is misspelt."},
    {file_unreadable, "file-unreadable", Severity::error, "The clip's file cannot be decoded, for the stated reason."},
    {file_empty, "file-empty", Severity::error, "The clip's file contains no frames."},
    {file_not_finite, "file-not-finite", Severity::error, "The clip's file contains samples that are NaN or infinite."},
    {file_channels, "file-channels", Severity::error, "The clip's file has more than eight channels."},
    {file_outside, "file-outside", Severity::error,
     "The clip's file is outside of the project's folder, so a copy of the folder is incomplete."},
    {unknown_key_code, "unknown-key-code", Severity::error,
     "The key is not a W3C UI Events code such as `KeyT` or `Space`.", true},
    {unused_clip, "unused-clip", Severity::note, "No sound and no binding uses the clip."},
    {unbound_sound, "unbound-sound", Severity::note,
     "No binding plays the sound. Accept the finding if code plays it."},
    {idle_zone, "idle-zone", Severity::note,
     "No binding names the zone, yet the zone still receives presses in front of others."},
    {no_trace, "no-trace", Severity::error, "The trace cannot be read."},
    {trace_line, "trace-line", Severity::error, "A line of the trace is invalid and was ignored."},
    {permission_denied, "permission-denied", Severity::error, "You have no permission to read the file."},
    {file_too_long, "file-too-long", Severity::error, "The clip's file needs more than 1 GiB of memory when decoded."},
    {file_cut_short, "file-cut-short", Severity::warning,
     "The clip's file is shorter than it states: a copy or an export was interrupted."},
    {file_folded, "file-folded", Severity::note,
     "The clip's file has more than two channels. They are mixed to stereo as in ITU-R BS.775."},
    {clip_silent, "clip-silent", Severity::warning, "No sample of the clip is above -80 dBFS."},
    {clip_clipped, "clip-clipped", Severity::warning,
     "Three or more samples in a row are at full scale: the recording or the export clipped."},
    {dc_offset, "dc-offset", Severity::warning,
     "The mean of the clip's samples is more than 0.01 from 0, which causes clicks at start and end."},
    {leading_silence, "leading-silence", Severity::warning,
     "The clip starts with more than 10 ms of silence, so it is heard late."},
    {clip_too_loud, "clip-too-loud", Severity::warning,
     "The clip is louder than -9 LUFS or +1 dBTP, which leaves no headroom for other sounds."},
    {take_level, "take-level", Severity::warning,
     "The take is more than 6 dB louder or quieter than the median of the takes."},
    {loop_clicks, "loop-clicks", Severity::warning,
     "The step from the end of the loop to its start is larger than -40 dBFS."},
    {same_content, "same-content", Severity::warning, "Two clips have identical files."},
    {unregistered_file, "unregistered-file", Severity::note,
     "An audio file in the project's folder is not registered as a clip."},
    {no_credit, "no-credit", Severity::note, "No licence is recorded for the clip."},
    {unknown_licence, "unknown-licence", Severity::warning, "The licence is not an SPDX identifier or expression."},
    {no_author, "no-author", Severity::warning, "The licence requires attribution, but no author is recorded."},
    {unknown_folder, "unknown-folder", Severity::warning, "A credit names a folder that contains no clip."},
    {unused_acceptance, "unused-acceptance", Severity::note, "An `[[accepted]]` entry matches no finding."},
    {not_editable, "not-editable", Severity::error,
     "The line is written in a form that Kiai cannot edit. Nothing was changed."},
    {not_written, "not-written", Severity::error, "The file could not be written. The old file is unchanged."},
    {name_taken, "name-taken", Severity::error, "Another entry already has this name."},
    {still_used, "still-used", Severity::error, "Another entry needs this entry."},
    {pending_entry, "pending-entry", Severity::note,
     "The name is declared with `pending = true` and has no file or takes yet."},
    {no_loop_points, "no-loop-points", Severity::warning,
     "The sound uses the loop of the clip's file, but the file has no loop. The whole clip is looped."},
    {loop_outside, "loop-outside", Severity::warning, "The loop is not inside its clip. It was clamped to the clip."},
    {bus_circle, "bus-circle", Severity::error, "The buses form a circle, so none of them reaches main."},
    {load_cancelled, "load-cancelled", Severity::error, "The clip was not read because the app cancelled the load."},
    {not_given, "not-given", Severity::warning,
     "The clip has `from-app = true`, but the app gave no samples for it. It is silent."},
    {few_takes, "few-takes", Severity::note,
     "The series has one take, which plays every time, or a shuffle of two, which alternate."},
    {unused_entry, "unused-entry", Severity::note, "Nothing uses this bus, dial, scope, motion or sequence."},
    {covered_zone, "covered-zone", Severity::warning,
     "Other zones in front cover the whole zone, so it never receives a press."},
    {trace_misfit, "trace-misfit", Severity::warning,
     "The trace names something that the project does not have. It belongs to an older project, or to another."},
    {every_frame, "every-frame", Severity::warning,
     "The app starts the sound 25 times a second or more, as a call in every frame does.", true},
    {play_and_stop, "play-and-stop", Severity::warning,
     "The sound is stopped within 10 ms of its start, so it is hardly heard.", true},
    {loop_unended, "loop-unended", Severity::warning,
     "Nothing stops the endless loop: no stop, toggle or hold, no scope, no length.", true},
    {idle_wait, "idle-wait", Severity::note,
     "The sequence waits, but nothing follows the wait, or nothing plays that it could wait for."},
    {no_variation, "no-variation", Severity::note,
     "The same recording is heard many times without variation. Add takes, or a `vary` table.", true},
    {pointer_at_origin, "pointer-at-origin", Severity::warning,
     "A binding fires for a pointer at 0, 0 that has never been elsewhere. The app may report a position that it does "
     "not know.",
     true},
    {clip_beside_sound, "clip-beside-sound", Severity::warning,
     "The clip is played directly, although a sound has it as a take. The gain, limits and variation of the sound do "
     "not apply."},
    {overlap_grows, "overlap-grows", Severity::note,
     "The sound is longer than the time between its triggers, so its plays pile up.", true},
    {nothing_bound, "nothing-bound", Severity::note, "A trigger happens, or can happen, that no binding answers.",
     true},
    {no_log, "no-log", Severity::error, "The log is missing or cannot be read."},
    {log_line, "log-line", Severity::error, "A line of the log is not a decision and was ignored."},
    {no_expectations, "no-expectations", Severity::error, "The expectations file is missing or cannot be read."},
    {callback_threw, "callback-threw", Severity::warning,
     "A callback of the app threw an exception. The engine caught it and continues.", true},
    {input_unended, "input-unended", Severity::warning,
     "The app reports a press or a key again, but never its end, so only the first press fires. Report `release` or "
     "`key_up`.",
     true},
    {no_device, "no-device", Severity::warning, "There is no output device, so nothing is heard.", true},
    {dead_stop, "dead-stop", Severity::note, "An action stops a sound that no binding, sequence or action starts."},
    {outlives_scope, "outlives-scope", Severity::warning,
     "A binding to the scope's enter or leave starts an endless sound that does not belong to the scope."},
    {endless_cascade, "endless-cascade", Severity::error,
     "Notices or sequences trigger each other in a loop, without time between them."},
    {too_many, "too-many", Severity::error, "The project has more entries of a kind than an engine supports."},
    {near_limit, "near-limit", Severity::warning,
     "The engine uses more than three quarters of a resource: time, voices, streams, reports or decisions.", true},
    {other_unit, "other-unit", Severity::note,
     "The number looks like a value in another unit, such as a gain of 0.5 that was meant to halve the level."},
    {pack_damaged, "pack-damaged", Severity::error,
     "The file is not a pack, or its bytes changed. Make the pack again, or copy it again."},
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

const char* explain(FindingCode code) noexcept {
    const Row* row = row_of(code);
    return row ? row->meaning : "";
}

} // namespace kiai::inline v0
