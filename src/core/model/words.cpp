// How the public enumerations are spelt in messages, logs and traces.
#include "core/model/one_line.h"

#include <kiai/decision.h>
#include <kiai/finding.h>

#include <algorithm>
#include <iterator>
#include <ostream>

namespace kiai::inline v0 {

const char* to_string(Severity severity) noexcept {
    switch (severity) {
    case Severity::error:
        return "error";
    case Severity::warning:
        return "warning";
    case Severity::note:
        return "note";
    }
    return "note";
}

std::string to_string(const Finding& finding) {
    std::string text;
    if (!finding.file.empty()) {
        text = finding.file;
        if (finding.line > 0) text += ':' + std::to_string(finding.line); // never by the stream: it has a locale
        if (finding.line > 0 && finding.column > 0) text += ':' + std::to_string(finding.column);
        text += ": ";
    }
    text += to_string(finding.severity) + std::string(": ") + finding.sentence + " [" + to_string(finding.code) + ']';
    if (!finding.mend.empty()) text += "; " + finding.mend;
    return model::one_line(text);
}

std::ostream& operator<<(std::ostream& out, const Finding& finding) {
    return out << to_string(finding);
}

int count(const std::vector<Finding>& findings, Severity severity) noexcept {
    return static_cast<int>(std::count_if(findings.begin(), findings.end(), [&](const Finding& finding) {
        return finding.severity == severity && finding.accepted.empty();
    }));
}

const char* to_string(ReportKind kind) noexcept {
    static constexpr const char* words[] = {
        "press",       "release",     "pointer",       "pointer-gone", "key-down",   "key-up",      "contact",
        "apart",       "playhead",    "playhead-gone", "body",         "body-gone",  "notice",      "dial",
        "scope-enter", "scope-leave", "scope-pause",   "scope-resume", "zone",       "zone-gone",   "input-lost",
        "play",        "stop",        "toggle",        "pause",        "resume",     "run",         "bus-gain",
        "bus-mute",    "play-stop",   "play-gain",     "play-set",     "play-pause", "play-resume", "wind-down",
        "counted",     "enter",       "leave",         "marker",       "watch",      "start",       "after",
        "every",       "ended",       "project"};
    static_assert(std::size(words) == static_cast<std::size_t>(ReportKind::last) + 1);
    return words[static_cast<int>(kind)];
}

const char* to_string(Outcome outcome) noexcept {
    switch (outcome) {
    case Outcome::played:
        return "played";
    case Outcome::pending:
        return "pending";
    case Outcome::refused_gap:
        return "refused-gap";
    case Outcome::refused_limit:
        return "refused-limit";
    case Outcome::not_ready:
        return "not-ready";
    case Outcome::refused_full:
        return "refused-full";
    case Outcome::stopped:
        return "stopped";
    case Outcome::nothing_to_stop:
        return "nothing-to-stop";
    case Outcome::gave_way:
        return "gave-way";
    case Outcome::ended:
        return "ended";
    case Outcome::done:
        return "done";
    case Outcome::not_met:
        return "not-met";
    case Outcome::scope_off:
        return "scope-off";
    case Outcome::scope_paused:
        return "scope-paused";
    case Outcome::lost:
        return "lost";
    case Outcome::no_end:
        return "no-end";
    case Outcome::too_deep:
        return "too-deep";
    case Outcome::over:
        return "over";
    case Outcome::no_zone:
        return "no-zone";
    case Outcome::no_binding:
        return "no-binding";
    case Outcome::same_state:
        return "same-state";
    case Outcome::unknown_name:
        return "unknown-name";
    case Outcome::unknown_value:
        return "unknown-value";
    case Outcome::stream_late:
        return "stream-late";
    case Outcome::bad_number:
        return "bad-number";
    case Outcome::out_of_range:
        return "out-of-range";
    case Outcome::late:
        return "late";
    case Outcome::no_room:
        return "no-room";
    case Outcome::unended:
        return "unended";
    case Outcome::calendar_full:
        return "calendar-full";
    case Outcome::names_full:
        return "names-full";
    case Outcome::ring_full:
        return "ring-full";
    case Outcome::changed:
        return "changed";
    case Outcome::log_full:
        return "log-full";
    }
    return "decision";
}

const char* to_string(EndReason reason) noexcept {
    switch (reason) {
    case EndReason::none:
        return "none";
    case EndReason::finished:
        return "finished";
    case EndReason::stopped:
        return "stopped";
    case EndReason::gave_way:
        return "gave-way";
    case EndReason::scope_left:
        return "scope-left";
    case EndReason::changed:
        return "changed";
    }
    return "none";
}

const char* to_string(PlayState state) noexcept {
    static constexpr const char* words[] = {"ended", "asked", "playing", "fading", "paused"};
    return words[static_cast<int>(state)];
}

} // namespace kiai::inline v0
