// Plays a rehearsal on the default device.
#pragma once

#include "command.h"

#include <kiai/speaker.h>
#include <kiai/workshop/rehearse.h>

namespace kiai::tool {

/// Plays the samples unchanged. Ctrl-C fades them out.
Status listen(const Rehearsal& rehearsal, const SpeakerSettings& settings);

/// Prints the available outputs.
void print_devices();

} // namespace kiai::tool
