// Makes every clip of the marble run.
#pragma once

#include "struck.h"

#include <string>

namespace bench {

struct Clip {
    std::string name;
    Samples samples; ///< mono, at `rate`
};

std::vector<Clip> make_clips();

} // namespace bench
