// Findings: problems in a project, or in how an app uses the engine, each in one line with its location and fix.
#pragma once

#include <iosfwd>
#include <string>
#include <vector>

namespace kiai::inline v0 {

enum class Severity { error = 0, warning = 1, note = 2 };

/// The kind of a finding. `explain` returns the meaning of each. A number never changes its meaning.
enum class FindingCode {
    no_project = 1,
    toml_syntax = 2,
    unknown_format = 3,
    unknown_key = 4,
    wrong_type = 5,
    bad_value = 6,
    bad_name = 7,
    missing_key = 8,
    unknown_name = 9,
    empty_series = 10,
    series_gap = 11,
    file_missing = 12,
    file_unreadable = 13,
    file_empty = 14,
    file_not_finite = 15,
    file_channels = 16,
    file_outside = 17,
    unknown_key_code = 18,
    unused_clip = 19,
    unbound_sound = 20,
    idle_zone = 21,
    no_trace = 22,
    trace_line = 23,
    permission_denied = 24,
    file_too_long = 25,
    file_cut_short = 26,
    file_folded = 27,
    clip_silent = 28,
    clip_clipped = 29,
    dc_offset = 30,
    leading_silence = 31,
    clip_too_loud = 32,
    take_level = 33,
    loop_clicks = 34,
    same_content = 35,
    unregistered_file = 36,
    no_credit = 37,
    unknown_licence = 38,
    no_author = 39,
    unknown_folder = 40,
    unused_acceptance = 41,
    not_editable = 42,
    not_written = 43,
    name_taken = 44,
    still_used = 45,
    pending_entry = 46,
    no_loop_points = 47,
    loop_outside = 48,
    bus_circle = 49,
    load_cancelled = 50,
    not_given = 51,
    few_takes = 52,
    unused_entry = 53,
    covered_zone = 54,
    trace_misfit = 55,
    every_frame = 56,
    play_and_stop = 57,
    loop_unended = 58,
    idle_wait = 59,
    no_variation = 60,
    pointer_at_origin = 61,
    clip_beside_sound = 62,
    overlap_grows = 63,
    nothing_bound = 64,
    no_log = 65,
    log_line = 66,
    no_expectations = 67,
    callback_threw = 68,
    input_unended = 69,
    no_device = 70,
    dead_stop = 71,
    outlives_scope = 72,
    endless_cascade = 73,
    too_many = 74,
    near_limit = 75,
    other_unit = 76,
    pack_damaged = 77,
};

/// Returns all codes, in the order of their numbers.
const std::vector<FindingCode>& all_finding_codes();

/// Returns the code as it is printed: `unknown-name`.
const char* to_string(FindingCode code) noexcept;
/// Returns the usual severity. A missing `format`, and a clip with `outside = true`, are only warnings.
Severity usual_severity(FindingCode code) noexcept;
/// Returns true if a running engine reports such findings; see Engine::set_findings.
bool found_running(FindingCode code) noexcept;
/// Returns one or two sentences: the meaning, and what to do.
const char* explain(FindingCode code) noexcept;
/// Returns `error`, `warning` or `note`.
const char* to_string(Severity severity) noexcept;

/// One finding. A plain value; any thread.
struct Finding {
    FindingCode code = FindingCode::no_project;
    Severity severity = Severity::error;
    std::string file;        ///< relative to the caller's path: `marble-run/kiai.toml`
    int line = 0;            ///< from 1; 0: the whole file
    int column = 0;          ///< from 1; 0: the whole line
    std::string message;     ///< the problem
    std::string fix;         ///< an instruction, or a suggestion
    std::string entry;       ///< the name of the entry, or empty
    std::string replacement; ///< the corrected text, if the fix is certain; used by `fix_project`
    std::string accepted;    ///< why the project accepts the finding; empty if it does not
    int binding = 0;         ///< the number of the `[[binding]]` that it disables, from 1; 0: none
};

/// Returns one line: `kiai.toml:12:9: error: … [unknown-name]; fix`. Control characters are escaped.
std::string to_string(const Finding& finding);
/// Returns the same line with `severity` in place of the severity, for example in colour.
std::string to_string(const Finding& finding, const std::string& severity);
std::ostream& operator<<(std::ostream& out, const Finding& finding);

/// Returns how many findings have that severity and are not accepted.
int count(const std::vector<Finding>& findings, Severity severity) noexcept;

} // namespace kiai::inline v0

#ifdef KIAI_SILENT
#include <kiai/silent/finding.h>
#endif
