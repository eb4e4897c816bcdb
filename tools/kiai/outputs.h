// What `rehearse`, `hear` and `demo` do with a rehearsal: write its files, print its numbers.
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
/// `error`: what drawing it gave.
bool write_picture(const std::string& error, const Outputs& outputs);
bool write_outputs(const Rehearsal& rehearsal, const Outputs& outputs);

/// One line for each decision: when, what happened, what was done about it.
void print_log(const Rehearsal& rehearsal);

/// Writes a trace with a mark by which the tool knows it again; empty, or why not.
std::string save_own_trace(const std::string& path, const Trace& trace);

/// The table of sounds, and what was faded or unanswered.
void print_summary(const Rehearsal& rehearsal);

} // namespace kiai::tool
