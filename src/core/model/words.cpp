// The spelling of public enumerators in messages, logs and traces.
#include "core/model/one_line.h"

#include <kiai/finding.h>
#include <kiai/report.h>

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
    return to_string(finding, to_string(finding.severity));
}

std::string to_string(const Finding& finding, const std::string& severity) {
    std::string text;
    if (!finding.file.empty()) {
        text = finding.file;
        if (finding.line > 0) text += ':' + std::to_string(finding.line); // never by the stream: it has a locale
        if (finding.line > 0 && finding.column > 0) text += ':' + std::to_string(finding.column);
        text += ": ";
    }
    std::string rest = ": " + finding.message + " [" + to_string(finding.code) + ']';
    if (!finding.fix.empty()) rest += "; " + finding.fix;
    return model::one_line(text) + severity + model::one_line(rest);
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
        "press",       "release",     "pointer",       "pointer-gone", "key-down",  "key-up",     "contact",
        "contact-end", "playhead",    "playhead-gone", "body",         "body-gone", "notice",     "dial",
        "scope-enter", "scope-leave", "scope-pause",   "scope-resume", "zone",      "zone-gone",  "input-lost",
        "play",        "stop",        "toggle",        "pause",        "resume",    "restart",    "crossfade",
        "run",         "bus-gain",    "bus-mute",      "play-stop",    "play-gain", "play-pitch", "play-pan",
        "play-set",    "play-pause",  "play-resume",   "play-seek",    "wind-down", "counted",    "enter",
        "leave",       "marker",      "watch",         "start",        "after",     "every",      "ended",
        "project"};
    static_assert(std::size(words) == static_cast<std::size_t>(ReportKind::last) + 1);
    return words[static_cast<int>(kind)];
}

const char* to_string(FadeCurve curve) noexcept {
    return curve == FadeCurve::equal_gain ? "equal-gain" : "equal-power";
}

} // namespace kiai::inline v0
