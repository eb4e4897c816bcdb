// What each kind of finding is called, and what it means in general.
#include <kiai/finding.h>

#include <array>

namespace kiai::inline v0 {
namespace {

struct Row {
    FindingCode code;
    const char* name;
    Severity severity;
    const char* meaning;
    bool running = false; ///< an engine finds it as it runs
};

using enum FindingCode;
constexpr auto rows = std::to_array<Row>({
    {no_project, "no-project", Severity::error,
     "There is no kiai.toml that can be read. Give the folder that holds one."},
    {toml_syntax, "toml-syntax", Severity::error,
     "kiai.toml is not valid TOML. Fix the line; the rest is read once it is."},
    {unknown_format, "unknown-format", Severity::error, "`format` names a version that this library does not read."},
    {unknown_key, "unknown-key", Severity::error,
     "A key has no meaning where it stands: mostly a slip, or a key of another entry."},
    {wrong_type, "wrong-type", Severity::error,
     "A value is of another kind than its key takes: a text for a number, and so on."},
    {bad_value, "bad-value", Severity::error, "A value is outside of what its key takes."},
    {bad_name, "bad-name", Severity::error, "A name uses other characters than a-z 0-9 - _, or more than 64 of them."},
    {missing_key, "missing-key", Severity::error, "An entry lacks a key that it cannot do without."},
    {unknown_name, "unknown-name", Severity::error,
     "A name that no entry of the project has. Names are compared exactly."},
    {empty_series, "empty-series", Severity::error, "A series has not a single clip."},
    {series_gap, "series-gap", Severity::warning,
     "A number is missing within a series. Register the file, or number the clips anew."},
    {file_missing, "file-missing", Severity::error, "A clip's file is not there: moved, renamed, or spelt otherwise."},
    {file_unreadable, "file-unreadable", Severity::error,
     "A clip's file cannot be decoded, for the reason that is told."},
    {file_empty, "file-empty", Severity::error, "A clip's file holds no frames."},
    {file_not_finite, "file-not-finite", Severity::error,
     "A clip's file holds samples that are no numbers (NaN, infinite)."},
    {file_channels, "file-channels", Severity::error, "A clip's file has more than eight channels."},
    {file_outside, "file-outside", Severity::error,
     "A clip's path leaves the project's folder, so the project is not whole elsewhere."},
    {unknown_key_code, "unknown-key-code", Severity::error,
     "A key binding, or a call of the app, names no W3C UI Events code.", true},
    {unused_clip, "unused-clip", Severity::note, "No sound and no binding uses a clip."},
    {unbound_sound, "unbound-sound", Severity::note, "No binding plays a sound. Accept it where code plays it."},
    {idle_zone, "idle-zone", Severity::note,
     "No binding names a zone; it still takes presses from what lies behind it."},
    {no_trace, "no-trace", Severity::error, "A trace cannot be read."},
    {trace_line, "trace-line", Severity::error, "A line of a trace is not what a trace holds; it is passed over."},
    {permission_denied, "permission-denied", Severity::error, "A clip's file may not be read by this user."},
    {file_too_long, "file-too-long", Severity::error,
     "A clip's file takes, or claims to take, more than 1 GiB once decoded."},
    {file_cut_short, "file-cut-short", Severity::warning,
     "A clip's file ends before its end: a copy or an export was broken off."},
    {file_folded, "file-folded", Severity::note,
     "A clip's file has more than two channels, folded to stereo by ITU-R BS.775."},
    {clip_silent, "clip-silent", Severity::warning, "Nothing in a clip is above -80 dBFS."},
    {clip_clipped, "clip-clipped", Severity::warning,
     "Three or more samples in a row lie at full scale: it was recorded too loud."},
    {dc_offset, "dc-offset", Severity::warning, "The mean of a clip's samples is more than 0.01 away from 0 (DC)."},
    {leading_silence, "leading-silence", Severity::warning,
     "A clip begins with more than 10 ms of silence, by which everything is heard late."},
    {clip_too_loud, "clip-too-loud", Severity::warning,
     "A clip is above -9 LUFS or +1 dBTP, which leaves no room for others."},
    {take_level, "take-level", Severity::warning,
     "A take is more than 6 dB louder or quieter than the middle of those beside it."},
    {loop_clicks, "loop-clicks", Severity::warning, "There is a step above -40 dBFS where a loop begins again."},
    {same_content, "same-content", Severity::warning, "Two clips hold the same, byte by byte."},
    {unregistered_file, "unregistered-file", Severity::note,
     "An audio file in the project's folder that no clip names."},
    {no_credit, "no-credit", Severity::note, "Nobody wrote down under which licence a clip may be used."},
    {unknown_licence, "unknown-licence", Severity::warning, "A licence that is no SPDX identifier or expression."},
    {no_author, "no-author", Severity::warning, "A licence demands that the author is named, and none is recorded."},
    {unknown_folder, "unknown-folder", Severity::warning, "A credit is given for a folder in which no clip lies."},
    {unused_acceptance, "unused-acceptance", Severity::note, "A finding is accepted that is not found any more."},
    {not_editable, "not-editable", Severity::error,
     "kiai.toml says it in a way that a command cannot edit; nothing was changed."},
    {not_written, "not-written", Severity::error, "A file could not be written; what was there before is still there."},
    {name_taken, "name-taken", Severity::error, "A name that something else has already."},
    {still_used, "still-used", Severity::error, "An entry that others cannot go on without."},
    {pending_entry, "pending-entry", Severity::note,
     "A name is declared with `pending = true`, and has no file or takes yet."},
    {no_loop_points, "no-loop-points", Severity::warning,
     "A sound wants the loop of a clip's own file, and the file has none; all of the clip is looped."},
    {loop_outside, "loop-outside", Severity::warning, "A loop does not lie in its clip; it is held in it."},
    {bus_circle, "bus-circle", Severity::error, "Buses go into one another in a circle, so nothing reaches main."},
    {load_cancelled, "load-cancelled", Severity::error, "A clip was not read, since the app cancelled loading."},
    {not_given, "not-given", Severity::warning,
     "A clip says `from-app = true`, and whoever loads the project gives no samples for it; nothing is heard of it."},
    {few_takes, "few-takes", Severity::note,
     "A series of one take, which plays each time, or a shuffle of two, which alternate."},
    {unused_entry, "unused-entry", Severity::note, "A bus, dial, scope, motion or sequence that nothing uses."},
    {covered_zone, "covered-zone", Severity::warning,
     "Zones in front of it take all that a zone could be pressed on, so that it never is."},
    {trace_misfit, "trace-misfit", Severity::warning,
     "A trace names what the project does not have; it is from an older one, or from another."},
    {every_frame, "every-frame", Severity::warning,
     "The app starts a sound again and again, 25 times a second or more, as if it were called in every frame.", true},
    {play_and_stop, "play-and-stop", Severity::warning,
     "A sound is told to stop within 10 ms of its begin, so that next to nothing of it is heard.", true},
    {loop_unended, "loop-unended", Severity::warning,
     "An endless loop is begun, and nothing stops it: no stop, toggle or hold, no scope, no time.", true},
    {idle_wait, "idle-wait", Severity::note, "A sequence waits where nothing comes after it, or nothing plays."},
    {no_variation, "no-variation", Severity::note,
     "One recording is heard again and again, each time the same: give it more takes, or vary it.", true},
    {pointer_at_origin, "pointer-at-origin", Severity::warning,
     "A binding fires for a pointer at 0, 0 that has not been anywhere else: it may not be there at all.", true},
    {clip_beside_sound, "clip-beside-sound", Severity::warning,
     "A clip is played as it is, though a sound has it as a take: its gain, limits and spread do not count."},
    {overlap_grows, "overlap-grows", Severity::note,
     "A sound lasts longer than the time between its triggers, so that its plays pile up.", true},
    {nothing_bound, "nothing-bound", Severity::note, "Something happens, or can, that nothing is bound to.", true},
    {no_log, "no-log", Severity::error, "There is no such log, or it may not be read."},
    {log_line, "log-line", Severity::error, "A line of a log holds no decision; it is left out."},
    {no_expectations, "no-expectations", Severity::error,
     "There is no such file of expectations, or it may not be read."},
    {callback_threw, "callback-threw", Severity::warning,
     "A callback of the app threw an exception. The engine caught it and continues.", true},
    {input_unended, "input-unended", Severity::warning,
     "A press or key is reported again, and its end was never reported: only the first press is heard.", true},
    {no_device, "no-device", Severity::warning, "There is no output device, so nothing is heard.", true},
    {dead_stop, "dead-stop", Severity::note, "An action stops a sound that no binding, sequence or action starts."},
    {outlives_scope, "outlives-scope", Severity::warning,
     "A binding to the scope's enter or leave starts an endless sound that does not belong to the scope."},
    {endless_cascade, "endless-cascade", Severity::error,
     "Notices or sequences cause each other without end at one moment."},
    {too_many, "too-many", Severity::error, "A project has more entries of a kind than an engine takes."},
    {near_limit, "near-limit", Severity::warning,
     "The engine uses more than three quarters of what it has of a kind: time, voices, streams, reports, decisions.",
     true},
    {other_unit, "other-unit", Severity::note,
     "A number looks as if it were meant in another unit, such as a gain of 0.5 that would halve the level."},
    {pack_damaged, "pack-damaged", Severity::error,
     "A file is not a pack, or its bytes are not those that were written. Make the pack again, or copy it again."},
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
