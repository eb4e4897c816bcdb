// Draws a rehearsal as the bytes of a PNG.
#pragma once

#include <kiai/workshop/picture.h>

#include <string>

namespace kiai::workshop {

/// Returns the bytes; empty, with the reason in `error`, if that fails.
std::string rehearsal_png(const Rehearsal& rehearsal, const PictureSettings& settings, std::string& error);

} // namespace kiai::workshop
