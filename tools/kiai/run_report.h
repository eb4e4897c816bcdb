// What `rehearse --json` and `demo --json` print.
#pragma once

#include "against.h"
#include "documents.h"
#include "expected.h"

#include <kiai/workshop/rehearse.h>

#include <optional>
#include <string>

namespace kiai::tool {

/// The document of a run; `judged` and `against` if they were asked for.
std::string print_run(const Rehearsal& rehearsal, const std::optional<Judged>& judged = {},
                      const std::optional<Against>& against = {});

} // namespace kiai::tool
