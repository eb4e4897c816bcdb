// What was rehearsed, to the default device.
#pragma once

#include "command.h"

#include <kiai/speaker.h>
#include <kiai/workshop/rehearse.h>

namespace kiai::tool {

/// Plays its samples as they are. Ctrl-C fades it out.
Status listen(const Rehearsal& rehearsal, const SpeakerSettings& settings);

/// Prints the outputs that there are.
void print_devices();

} // namespace kiai::tool
