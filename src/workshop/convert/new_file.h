// Makes the samples and the file of a converted clip, in memory.
#pragma once

#include "core/model/audio.h"

#include <kiai/workshop/convert.h>

#include <string>

namespace kiai::workshop {

/// The new file of a clip, before it is written.
struct NewFile {
    std::string bytes; ///< of the new file; empty after an error
    std::string error;
    Decibels gain = 0;
    Frames cut_start = 0, cut_end = 0;
    Facts after;
    Decibels residue = Facts::silent;
    std::string remark;
};

/// Trims, levels and encodes `audio`, reads the result back and measures it. `format` is not `keep`. [any]
NewFile make_file(const model::Audio& audio, const Facts& facts, AudioFormat format, const ConvertOptions& options);

} // namespace kiai::workshop
