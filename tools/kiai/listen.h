// What was rehearsed, to the default device.
#pragma once

#include "command.h"

#include <kiai/rehearse.h>

namespace kiai::tool {

/// Plays its samples as they are. Ctrl-C fades it out.
Status listen(const Rehearsal& rehearsal);

} // namespace kiai::tool
