// Shared by `rehearse`, `hear` and `demo`: writes a rehearsal's files and prints its numbers.
#pragma once

#include "options.h"

#include <kiai/workshop/rehearse.h>

#include <string>

namespace kiai::tool {

struct Outputs {
    std::string sound, log, picture; ///< files to write; empty: not wanted
    std::string title;               ///< of the picture
    int bits = 32;                   ///< of the sound file
    double from = 0, to = 0;         ///< of sound and picture, in seconds; to 0: to the end
};

/// Declares `--out` and `--bits`.
void add_sound_output(Command& command, Outputs& outputs);

/// Each writes the requested files and prints their paths. Returns false, and prints the error, if that fails.
bool write_sound(const Rehearsal& rehearsal, const Outputs& outputs);
/// `error`: the result of drawing.
bool write_picture(const std::string& error, const Outputs& outputs);
bool write_outputs(const Rehearsal& rehearsal, const Outputs& outputs);

/// Prints one line per decision: the time, the event, and the outcome.
void print_log(const Rehearsal& rehearsal);

/// Writes a trace with a mark by which the tool recognises it. Returns an empty text, or the error.
std::string save_own_trace(const std::string& path, const Trace& trace);

/// Prints the table of sounds, and what was faded out or unanswered.
void print_summary(const Rehearsal& rehearsal);

} // namespace kiai::tool
