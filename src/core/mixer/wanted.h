// What the rules request from the plays, and what the plays report to the rules.
#pragma once

#include "core/decisions/record.h"
#include "core/mixer/command.h"
#include "core/mixer/handles.h"

#include <kiai/report.h>

#include <cstdint>

namespace kiai::mixer {

/// The request to play a sound.
struct Wanted {
    int sound = 0;
    PlayNumbers options;
    Handles::Handle handle;
    decisions::Record cause;  ///< trigger, on, binding, cause: copied into every record about this play
    NamedNumbers values;      ///< what its own values begin with
    int scope = -1;           ///< that it belongs to
    std::uint64_t holder = 0; ///< the holder of the play; 0: none
    std::uint32_t run = 0;    ///< the run of a sequence that it is part of; 0: none
    int branch = -1;          ///< of that run: it may wait for its end
    Frames lasts = 0;         ///< stopped after this many frames; 0: not stopped
    int bus = -1;             ///< that it plays on; -1: its sound's
};

/// A group of plays.
struct Which {
    enum class Kind : std::uint8_t { sound, bus, scope, held, run, all } kind = Kind::all;
    std::uint64_t number = 0; ///< of the sound, bus, scope, holder or run
    int within = -1;          ///< only those on this bus, or on one that goes into it; -1: on any
};

/// The bus and the scope of a play.
struct Belonging {
    int bus = -1; ///< -1: its sound's
    int scope = -1;
};

/// A play whose end a callback waits for.
struct EndedPlay {
    int sound = 0;
    std::uint32_t run = 0;
    int branch = -1;
    std::uint32_t play = 0;
    Frames end = 0;
};

/// Who paused a play. The play is paused until all of them have resumed it.
enum Pauser : std::uint8_t { by_action = 1, by_scope = 2 };

} // namespace kiai::mixer
