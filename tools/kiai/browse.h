// Hears one thing after another, by key presses on the terminal.
#pragma once

#include "player.h"

#include <filesystem>
#include <functional>
#include <string>
#include <vector>

namespace kiai::tool {

/// Something to hear, and what the keys do with it.
struct BrowseItem {
    std::function<bool(bool again)> show;                           ///< prints and plays it; false: it cannot be heard
    std::function<void()> add = {};                                 ///< adds it to a project; empty: it cannot be added
    std::function<std::vector<std::filesystem::path>()> files = {}; ///< with --watch: the files to watch
    std::function<void()> changed = {};                             ///< with --watch: reads the files again
};

/// Shows the first, then waits for keys: space shows it again, the arrow keys show the previous or the next one, `a`
/// adds it, and `q` ends. Returns `failed` if nothing was heard.
Status browse(const std::vector<BrowseItem>& all, Player& player);

} // namespace kiai::tool
