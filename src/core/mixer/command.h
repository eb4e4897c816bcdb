// A report on its way into `render`: fixed size, no text.
#pragma once

#include "core/model/names.h"

#include <kiai/report.h>
#include <kiai/units.h>

#include <array>
#include <cstdint>

namespace kiai::mixer {

/// The reports of ReportKind, what only handles send, and the beginning of a recording.
enum class CommandKind : std::uint8_t {
    report,
    stop_play,
    gain_play,
    pitch_play,
    pan_play,
    value_play,
    pause_play,
    resume_play,
    wind_down,
    snapshot
};

constexpr Frames next_block = -1; ///< due: the first frame of the next block
constexpr std::uint32_t no_handle = 0xffffffffu;

/// A value by name, of a notice or of a play.
struct NamedNumber {
    model::NameId name = model::no_name;
    float value = 0;
};
using NamedNumbers = std::array<NamedNumber, 4>;

struct Command {
    Frames due = next_block;
    std::uint64_t ticket = 0; ///< its place in the ring, from 1: the order of equals, and its number in the log
    CommandKind kind = CommandKind::report;
    ReportKind report = ReportKind::notice;
    bool bad = false;  ///< a number was NaN or infinite: it is logged and not served
    bool held = false; ///< a number was out of range: it is logged and served
    bool late = false;
    ActionTarget target = ActionTarget::sound; ///< pause, resume, restart, stop
    bool in_seconds = false;                   ///< playhead: `value` is, else in frames of its motion
    model::NameId name = model::no_name;
    model::NameId other = model::no_name;
    std::uint64_t pointer = 0; ///< which pointer, or which playhead of a motion
    Point point;
    PlayOptions options;              ///< of a contact: strength and place; gain_play: gain; pitch_play, pan_play
    std::uint32_t handle = no_handle; ///< slot of the handle
    std::uint32_t generation = 0;     ///< which use of that slot
    std::uint32_t with = no_handle;   ///< play: that it begins with, as `handle`
    std::uint32_t with_generation = 0;
    float fade = -1;        ///< stop, stop_play, wind_down: seconds; below 0: as the sound says
    float over = 0;         ///< bus_gain, gain_play, pitch_play, pan_play: seconds
    double value = 0;       ///< as Report's; value_play
    double moment = 0;      ///< body: when it was there, in seconds of any one clock
    Frames delay = 0;       ///< play: after it is served
    std::uint64_t pair = 0; ///< contact, apart
    NamedNumbers values;    ///< notice
};

} // namespace kiai::mixer
