// Generates projects from the table of keys: any key, any value within its range, with a preference for the extremes.
// Entries have the names that `do_something` (storm.h) uses.
#pragma once

#include <kiai/load.h>

#include <functional>
#include <set>
#include <string>

namespace support {

/// Returns a number from 0 to `below` - 1.
using Choose = std::function<unsigned(unsigned below)>;

/// Returns the text of a kiai.toml. Adds every key that the text contains to `written`, as `section.key`.
std::string any_project(const Choose& choose, std::set<std::string>& written);

/// Loads the text as a project whose clips are test tones and noise.
kiai::LoadResult load_any_project(const std::string& toml);

struct History {
    bool finite = true; ///< every sample was finite and within ±1; the run stops at the first that is not
    int played = 0;     ///< number of plays that started
};

/// Makes `calls` random calls between blocks of random sizes, and sometimes swaps the two projects.
History any_history(const Choose& choose, const kiai::Project& one, const kiai::Project& other, int calls);

} // namespace support
