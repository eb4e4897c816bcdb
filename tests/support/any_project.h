// Projects made from the table of keys: any key, any value within its range, the extremes most of all. The names are
// those that `do_something` calls (storm.h).
#pragma once

#include <kiai/project.h>

#include <functional>
#include <set>
#include <string>

namespace support {

/// Returns a number from 0 to `below` - 1.
using Choose = std::function<unsigned(unsigned below)>;

/// The text of a kiai.toml. Every key that it writes is added to `written`, as `section.key`.
std::string any_project(const Choose& choose, std::set<std::string>& written);

/// Loads such a text, with test tones and noise for its clips. What has an error is left out of the project.
kiai::Loaded load_any_project(const std::string& toml);

struct History {
    bool finite = true; ///< every sample was finite and within 1; it ends at the first that is not
    int played = 0;     ///< plays that began
};

/// Makes `calls` random calls between blocks of any size, and swaps the two projects now and then.
History any_history(const Choose& choose, const kiai::Project& one, const kiai::Project& other, int calls);

} // namespace support
