// The decision log, written as it comes: for people, or for programs. It is a sink for Engine::set_log.
#pragma once

#include <kiai/decision.h>

#include <functional>
#include <iosfwd>

namespace kiai::inline v0 {

struct TextLogSettings {
    int sample_rate = 48000;
    bool every = false;  ///< a line for each decision, however often it repeats
    bool colour = false; ///< of terminals: refusals yellow, mistakes red, ends grey
};

/// A line for each decision, with its time in seconds. What comes again and again, of the same trigger with the same
/// answer, is not written sixty times a second: within a second ten plays, or one of anything else, have a line, and
/// the rest are counted in one. `out` outlives the sink. [control]
std::function<void(const Decision&)> text_log(std::ostream& out, const TextLogSettings& settings = {});

} // namespace kiai::inline v0

#ifdef KIAI_SILENT
#include <kiai/silent/log.h>
#endif
