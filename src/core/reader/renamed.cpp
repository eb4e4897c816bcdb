#include "core/reader/renamed.h"

namespace kiai::reader {
namespace {

struct Renamed {
    std::string_view where, old, now;
};

constexpr Renamed renamed_keys[] = {
    {"loop", "seam", "crossfade"},          {"vary", "spread", "distribution"}, {"follow", "moves", "target"},
    {"follow", "between", "interpolation"}, {"lfo", "moves", "target"},         {"trigger", "apart", "contact-end"},
};
constexpr Renamed renamed_values[] = {{"interpolation", "straight", "linear"}};
constexpr Renamed renamed_codes[] = {
    {"", "clip-late", "leading-silence"},      {"", "clip-offset", "dc-offset"},
    {"", "take-uneven", "take-level"},         {"", "same-again", "no-variation"},
    {"", "longer-than-turn", "overlap-grows"}, {"", "pointer-nowhere", "pointer-at-origin"},
    {"", "file-denied", "permission-denied"},  {"", "idle-acceptance", "unused-acceptance"},
};
constexpr Renamed renamed_reports[] = {{"", "apart", "contact-end"}, {"", "gave-way", "stolen"}};

/// The second word is what people write by habit, and the third is the key.
constexpr Renamed habits[] = {{"", "volume", "gain"},
                              {"", "level", "gain"},
                              {"", "clips", "takes"},
                              {"", "samples", "takes"},
                              {"", "files", "takes"},
                              {"", "max", "plays"},
                              {"", "polyphony", "plays"},
                              {"", "instances", "plays"},
                              {"", "cooldown", "gap"},
                              {"", "steal", "full"},
                              {"", "click", "press"},
                              {"", "key", "key-down"},
                              {"", "collision", "contact"},
                              {"", "event", "notice"},
                              {"", "parameter", "dial"},
                              {"", "param", "dial"},
                              {"", "w", "width"},
                              {"", "h", "height"},
                              {"", "radius", "r"},
                              {"", "random", "vary"},
                              {"", "output", "bus"},
                              {"", "parent", "into"},
                              {"", "lowpass", "low-pass"},
                              {"", "highpass", "high-pass"},
                              {"", "z", "order"},
                              {"", "probability", "chance"},
                              {"", "condition", "when"},
                              {"", "license", "licence"},
                              {"", "path", "file"},
                              {"", "semitones", "pitch"},
                              {"", "priorities", "priority"}};

template<std::size_t Count>
std::string name_now(const Renamed (&all)[Count], std::string_view where, std::string_view old) {
    for (const Renamed& one : all)
        if (one.where == where && one.old == old) return std::string(one.now);
    return {};
}

} // namespace

std::string renamed_key(std::string_view section, std::string_view old) {
    return name_now(renamed_keys, section, old);
}
std::string renamed_value(std::string_view key, std::string_view old) {
    return name_now(renamed_values, key, old);
}
std::string renamed_code(std::string_view old) {
    return name_now(renamed_codes, {}, old);
}
std::string renamed_report(std::string_view old) {
    return name_now(renamed_reports, {}, old);
}

std::string usual_key(std::string_view word) {
    return name_now(habits, {}, word);
}

} // namespace kiai::reader
