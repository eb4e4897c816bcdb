// Prints the results of `rehearse --json` and `demo --json`.
#pragma once

#include "against.h"
#include "documents.h"
#include "expected.h"

#include <kiai/workshop/rehearse.h>

#include <optional>
#include <string>

namespace kiai::tool {

/// Returns the document of a run, with `judged` and `against` if they are given.
std::string print_run(const Rehearsal& rehearsal, const std::optional<Judged>& judged = {},
                      const std::optional<Against>& against = {});

} // namespace kiai::tool
