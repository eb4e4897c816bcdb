// A decision log for people, as a sink for Engine::set_log.
#pragma once

#include <kiai/decision.h>

#include <functional>
#include <iosfwd>

namespace kiai::inline v0 {

struct TextLogSettings {
    int sample_rate = 48000;
    bool every = false;  ///< prints every decision, without summaries of repeated ones
    bool colour = false; ///< for terminals: refusals yellow, errors red, ends grey
};

/// Returns a sink that writes a line for each decision, with its time in seconds. Repeated decisions are summarised: at
/// most ten plays, or one other decision, of a kind per second. `out` must outlive the sink. [control]
std::function<void(const Decision&)> text_log(std::ostream& out, const TextLogSettings& settings = {});

} // namespace kiai::inline v0

#ifdef KIAI_SILENT
#include <kiai/silent/log.h>
#endif
