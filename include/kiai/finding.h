// What is wrong or doubtful about a project, told in one line with place, reason and fix.
#pragma once

#include <iosfwd>
#include <string>
#include <vector>

namespace kiai::inline v0 {

enum class Severity { error = 0, warning = 1, note = 2 };

/// What kind of finding it is. Codes are stable: a number is never given a second meaning.
enum class FindingCode {
    no_project = 1,         ///< there is no readable kiai.toml
    toml_syntax = 2,        ///< kiai.toml is not valid TOML
    unknown_format = 3,     ///< `format` names a version that this library does not read
    unknown_key = 4,        ///< a key that has no meaning where it stands
    wrong_type = 5,         ///< a value of another kind than the key takes
    bad_value = 6,          ///< a value outside what the key takes
    bad_name = 7,           ///< an entry's name uses other characters than a-z 0-9 - _
    missing_key = 8,        ///< an entry lacks a key that it needs
    unknown_name = 9,       ///< a name that no entry of the project has
    empty_series = 10,      ///< a series without a single clip
    series_gap = 11,        ///< a number is missing within a series
    file_missing = 12,      ///< a clip's file is not there
    file_unreadable = 13,   ///< a clip's file cannot be decoded
    file_empty = 14,        ///< a clip's file holds no frames
    file_not_finite = 15,   ///< a clip's file holds NaN or infinite samples
    file_channels = 16,     ///< a clip's file has more channels than can be played
    file_outside = 17,      ///< a clip's path leaves the project's folder
    unknown_key_code = 18,  ///< a key binding names no W3C `code`
    unused_clip = 19,       ///< no sound and no binding uses a clip
    unbound_sound = 20,     ///< no binding plays a sound
    idle_zone = 21,         ///< no binding names a zone
    no_trace = 22,          ///< a trace cannot be read
    trace_line = 23,        ///< a line of a trace is not what a trace holds
    permission_denied = 24, ///< a clip's file may not be read
    file_too_long = 25,     ///< a clip's file is larger than what may be held in memory
    file_cut_short = 26,    ///< a clip's file ends before its end
    file_folded = 27,       ///< a clip's file has more than two channels, which are folded to stereo
    clip_silent = 28,       ///< nothing in a clip is loud enough to be heard
    clip_clipped = 29,      ///< a clip was recorded or exported over full scale
    dc_offset = 30,         ///< a clip's samples do not lie around 0 (DC)
    leading_silence = 31,   ///< a clip begins with silence, so it is heard late
    clip_too_loud = 32,     ///< a clip leaves no room for others
    take_level = 33,        ///< a take is much louder or quieter than the others beside it
    loop_clicks = 34,       ///< there is a step where a loop begins again
    same_content = 35,      ///< two clips hold the same
    unregistered_file = 36, ///< an audio file in the project's folder that no clip names
    no_credit = 37,         ///< nobody wrote down under which licence a clip may be used
    unknown_licence = 38,   ///< a licence that is no SPDX identifier
    no_author = 39,         ///< a licence that demands that the author is named, and none is
    unknown_folder = 40,    ///< a credit for a folder that holds no clip
    unused_acceptance = 41, ///< a finding is accepted that is not made any more
    not_editable = 42,      ///< kiai.toml says it in a way that a command cannot edit
    not_written = 43,       ///< a file could not be written
    name_taken = 44,        ///< a name that something else has already
    still_used = 45,        ///< an entry that others cannot go on without
    pending_entry = 46,     ///< a name that is declared, but has no file or takes yet
    no_loop_points = 47,    ///< a sound wants the loop of a file that has none
    loop_outside = 48,      ///< a loop that does not lie in its clip
    bus_circle = 49,        ///< buses that go into one another in a circle
    load_cancelled = 50,    ///< a clip was not read, since loading was cancelled
    not_given = 51,         ///< a clip that the app is to give, and did not
    few_takes = 52,         ///< too few takes to pick among
    unused_entry = 53,      ///< a bus, dial, scope, motion or sequence that nothing uses
    covered_zone = 54,      ///< a zone that others in front of it cover entirely
    trace_misfit = 55,      ///< a trace names what the project does not have
    every_frame = 56,       ///< the app starts a sound again and again, as if it were called in every frame
    play_and_stop = 57,     ///< a sound is told to stop in the moment in which it begins
    loop_unended = 58,      ///< nothing ends an endless loop
    idle_wait = 59,         ///< a sequence waits where there is nothing to wait for
    no_variation = 60,      ///< one recording is heard again and again, each time the same
    pointer_at_origin = 61, ///< a binding fires for a pointer that has not been anywhere
    clip_beside_sound = 62, ///< a binding plays a clip as it is that a sound has as a take
    overlap_grows = 63,     ///< a sound lasts longer than the time between its triggers
    nothing_bound = 64,     ///< something happens, or can, that nothing is bound to
    no_log = 65,            ///< a log cannot be read
    log_line = 66,          ///< a line of a log is not what a log holds
    no_expectations = 67,   ///< a file of expectations cannot be read
    callback_threw = 68,    ///< a callback of the app threw an exception
    input_unended = 69,     ///< a press or key is reported again and again, and its end never is
    no_device = 70,         ///< there is no output device, so nothing is heard
    dead_stop = 71,         ///< an action stops what nothing plays
    outlives_scope = 72,    ///< what a scope's enter or leave starts is not ended with the scope
    endless_cascade = 73,   ///< notices or sequences cause each other without end
    too_many = 74,          ///< more entries of a kind than an engine takes
    near_limit = 75,        ///< an engine is about to lose something, since it is full
    other_unit = 76,        ///< a number looks like one in another unit
    pack_damaged = 77,      ///< a file is no pack, or not as it was written
};

/// All codes, in the order of their numbers.
const std::vector<FindingCode>& all_finding_codes();

/// The code as it is printed and as it stands in `--json`: `unknown-name`.
const char* to_string(FindingCode code) noexcept;
/// How severe such a finding is. A missing `format`, and a clip outside of the project that says so, are only warnings.
Severity usual_severity(FindingCode code) noexcept;
/// An engine finds it as it runs, whatever `check` finds; see Engine::set_findings.
bool found_running(FindingCode code) noexcept;
/// One sentence: what it means in general, and what to do about it.
const char* explain(FindingCode code) noexcept;
/// `error`, `warning` or `note`.
const char* to_string(Severity severity) noexcept;

/// One finding. A plain value; any thread.
struct Finding {
    FindingCode code = FindingCode::no_project;
    Severity severity = Severity::error;
    std::string file;        ///< as the caller named the project, with the file's name: `marble-run/kiai.toml`
    int line = 0;            ///< from 1; 0 where the finding is about the whole file
    int column = 0;          ///< from 1; 0 where it is about the whole line
    std::string message;     ///< what is wrong, in the words of kiai.toml
    std::string fix;         ///< what to do about it
    std::string entry;       ///< the name of the entry that it is about, where it is about one
    std::string replacement; ///< what belongs at that place instead, where that is beyond doubt; see `fix_project`
    std::string accepted;    ///< the reason for which the project accepts it; empty where it does not
    int binding = 0;         ///< the number of the `[[binding]]` that cannot be used because of it, from 1; 0: none
};

/// One line, without a line break: `kiai.toml:12:9: error: … [unknown-name]; fix`. Control characters are escaped.
std::string to_string(const Finding& finding);
/// The same with another text in the place of the severity, such as one with a colour.
std::string to_string(const Finding& finding, const std::string& severity);
std::ostream& operator<<(std::ostream& out, const Finding& finding);

/// How many of `findings` are of that severity and not accepted.
int count(const std::vector<Finding>& findings, Severity severity) noexcept;

} // namespace kiai::inline v0

#ifdef KIAI_SILENT
#include <kiai/silent/finding.h>
#endif
