// A report on its way into `render`: fixed size, no text.
#pragma once

#include "core/mixer/play_numbers.h"
#include "core/model/names.h"

#include <kiai/report.h>
#include <kiai/units.h>

#include <array>
#include <cstdint>

namespace kiai::mixer {

/// A report of the app, a call on a play, or the start of a recording.
enum class CommandKind : std::uint8_t { report, of_play, snapshot };

constexpr Frames next_block = -1; ///< due: the first frame of the next block
constexpr std::uint32_t no_handle = 0xffffffffu;

/// A named value of a notice or a play.
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
    ActionTarget target = ActionTarget::sound; ///< pause, resume, restart, stop, crossfade
    bool in_seconds = false;                   ///< playhead: `value` is, else in frames of its motion
    model::NameId name = model::no_name;
    model::NameId other = model::no_name;
    model::NameId from = model::no_name; ///< crossfade: what ends; `no_name`: the play of `with`
    std::int32_t delay = 0;              ///< play: frames after it is served
    std::uint64_t pointer = 0;           ///< which pointer, or which playhead of a motion
    Point point;
    PlayNumbers options;              ///< of a contact: strength and place; play_gain: gain; play_pitch, play_pan
    std::uint32_t handle = no_handle; ///< slot of the handle
    std::uint32_t generation = 0;     ///< which use of that slot
    std::uint32_t with = no_handle;   ///< play: that it begins with, as `handle`; crossfade: that it takes over from
    std::uint32_t with_generation = 0;
    float fade = -1;        ///< stop, play_stop, wind_down, crossfade: seconds; below 0: as the sound says
    float over = 0;         ///< bus_gain, play_gain, play_pitch, play_pan: seconds
    double value = 0;       ///< as Report's
    double moment = 0;      ///< body: when it was there, in seconds of any one clock
    std::uint64_t pair = 0; ///< contact, apart
    NamedNumbers values;    ///< notice
};

} // namespace kiai::mixer
