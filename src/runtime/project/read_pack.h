// Reads the project of a pack.
#pragma once

#include "runtime/system/file_bytes.h"

#include <kiai/load.h>

#include <memory>
#include <string>

namespace kiai::runtime {

/// `name`: the pack in findings. [control]
LoadResult read_pack(std::shared_ptr<const FileBytes> file, const std::string& name, const LoadOptions& options);

} // namespace kiai::runtime
