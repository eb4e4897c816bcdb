// The meaning of each kind of finding. Only tools need it, so it is an object file of its own that a game does not
// link.
#include <kiai/finding.h>

#include <array>

namespace kiai::inline v0 {
namespace {

struct Meaning {
    FindingCode code;
    const char* text;
};

using enum FindingCode;
constexpr auto meanings = std::to_array<Meaning>({
    {no_project, "The file kiai.toml is missing or cannot be read. Name the folder that contains it."},
    {toml_syntax, "The file kiai.toml is not valid TOML. Fix the line; the rest of the file is checked afterwards."},
    {unknown_format, "`format` names a version that this library does not support."},
    {unknown_key, "The entry has a key that Kiai does not know: a typing error, or a key of another kind of entry."},
    {wrong_type, "A value has the wrong type, such as a text in place of a number."},
    {bad_value, "A value is out of range."},
    {bad_name, "A name contains other characters than a-z 0-9 - _, or is longer than 64 characters."},
    {missing_key, "A required key is missing."},
    {unknown_name, "No entry of the project has this name. Names are compared exactly."},
    {empty_series, "No clip belongs to the series."},
    {series_gap, "A number is missing in a series. Register the file, or renumber the clips."},
    {file_missing, "The clip's file does not exist: it was moved or renamed, or its path is misspelt."},
    {file_unreadable, "The clip's file cannot be decoded, for the stated reason."},
    {file_empty, "The clip's file contains no frames."},
    {file_not_finite, "The clip's file contains samples that are NaN or infinite."},
    {file_channels, "The clip's file has more than eight channels."},
    {file_outside, "The clip's file is outside of the project's folder, so a copy of the folder is incomplete."},
    {unknown_key_code, "The key is not a W3C UI Events code such as `KeyT` or `Space`."},
    {unused_clip, "No sound and no binding uses the clip."},
    {unbound_sound, "No binding plays the sound. Accept the finding if code plays it."},
    {idle_zone, "No binding names the zone, yet the zone still receives presses in front of others."},
    {no_trace, "The trace cannot be read."},
    {trace_line, "A line of the trace is invalid and was ignored."},
    {permission_denied, "You have no permission to read the file."},
    {file_too_long, "The clip's file needs more than 1 GiB of memory when decoded."},
    {file_cut_short, "The clip's file is shorter than it states: a copy or an export was interrupted."},
    {file_folded, "The clip's file has more than two channels. They are mixed to stereo as in ITU-R BS.775."},
    {clip_silent, "No sample of the clip is above -80 dBFS."},
    {clip_clipped, "Three or more samples in a row are at full scale: the recording or the export clipped."},
    {dc_offset, "The mean of the clip's samples is more than 0.01 from 0, which causes clicks at start and end."},
    {leading_silence, "The clip starts with more than 10 ms of silence, so it is heard late."},
    {clip_too_loud, "The clip is louder than -9 LUFS or +1 dBTP, which leaves no headroom for other sounds."},
    {take_level, "The take is more than 6 dB louder or quieter than the median of the takes."},
    {loop_clicks, "The step from the end of the loop to its start is larger than -40 dBFS."},
    {same_content, "Two clips have identical files."},
    {unregistered_file, "An audio file in the project's folder is not registered as a clip."},
    {no_credit, "No licence is recorded for the clip."},
    {unknown_licence, "The licence is not an SPDX identifier or expression."},
    {no_author, "The licence requires attribution, but no author is recorded."},
    {unknown_folder, "A credit names a folder that contains no clip."},
    {unused_acceptance, "An `[[accepted]]` entry matches no finding."},
    {not_editable, "The line is written in a form that Kiai cannot edit. Nothing was changed."},
    {not_written, "The file could not be written. The old file is unchanged."},
    {name_taken, "Another entry already has this name."},
    {still_used, "Another entry needs this entry."},
    {pending_entry, "The name is declared with `pending = true` and has no file or takes yet."},
    {no_loop_points, "The sound uses the loop of the clip's file, but the file has no loop. The whole clip is looped."},
    {loop_outside, "The loop is not inside its clip. It was clamped to the clip."},
    {bus_circle, "The buses form a circle, so none of them reaches main."},
    {load_cancelled, "The clip was not read because the app cancelled the load."},
    {not_given, "The clip has `from-app = true`, but the app gave no samples for it. It is silent."},
    {few_takes, "The series has one take, which plays every time, or a shuffle of two, which alternate."},
    {unused_entry, "Nothing uses this bus, dial, scope, motion or sequence."},
    {covered_zone, "Other zones in front cover the whole zone, so it never receives a press."},
    {trace_misfit,
     "The trace names something that the project does not have. It belongs to an older project, or to another."},
    {every_frame, "The app starts the sound 25 times a second or more, as a call in every frame does."},
    {play_and_stop, "The sound is stopped within 10 ms of its start, so it is hardly heard."},
    {loop_unended, "Nothing stops the endless loop: no stop, toggle or hold, no scope, no length."},
    {idle_wait, "The sequence waits, but nothing follows the wait, or nothing plays that it could wait for."},
    {no_variation, "The same recording is heard many times without variation. Add takes, or a `vary` table."},
    {pointer_at_origin, "A binding fires for a pointer at 0, 0 that has never been elsewhere. The app may report a "
                        "position that it does not know."},
    {clip_beside_sound, "The clip is played directly, although a sound has it as a take. The gain, limits and "
                        "variation of the sound do not apply."},
    {overlap_grows, "The sound is longer than the time between its triggers, so its plays pile up."},
    {nothing_bound, "A trigger happens, or can happen, that no binding answers."},
    {no_log, "The log is missing or cannot be read."},
    {log_line, "A line of the log is not a decision and was ignored."},
    {no_expectations, "The expectations file is missing or cannot be read."},
    {callback_threw, "A callback of the app threw an exception. The engine caught it and continues."},
    {input_unended, "The app reports a press or a key again, but never its end, so only the first press fires. Report "
                    "`release` or `key_up`."},
    {no_device, "There is no output device, so nothing is heard."},
    {dead_stop, "An action stops a sound that no binding, sequence or action starts."},
    {outlives_scope,
     "A binding to the scope's enter or leave starts an endless sound that does not belong to the scope."},
    {endless_cascade, "Notices or sequences trigger each other in a loop, without time between them."},
    {too_many, "The project has more entries of a kind than an engine supports."},
    {near_limit,
     "The engine uses more than three quarters of a resource: time, voices, streams, reports or decisions."},
    {other_unit,
     "The number looks like a value in another unit, such as a gain of 0.5 that was meant to halve the level."},
    {pack_damaged, "The file is not a pack, or its bytes changed. Make the pack again, or copy it again."},
});

} // namespace

const char* explain(FindingCode code) noexcept {
    for (const Meaning& one : meanings)
        if (one.code == code) return one.text;
    return "";
}

} // namespace kiai::inline v0
