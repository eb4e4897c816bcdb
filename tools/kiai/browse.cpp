#include "browse.h"

#include "system/terminal.h"

#include <algorithm>
#include <iostream>
#include <map>
#include <thread>

namespace kiai::tool {
namespace {

namespace fs = std::filesystem;

std::map<fs::path, fs::file_time_type> times_of(const BrowseItem& one) {
    std::map<fs::path, fs::file_time_type> times;
    if (!one.files) return times;
    for (const fs::path& file : one.files()) {
        std::error_code error;
        const auto time = fs::last_write_time(file, error);
        if (!error) times[file] = time; // a file that is being replaced is missing for a moment
    }
    return times;
}

void print_keys(const std::vector<BrowseItem>& all) {
    std::string keys = "space: again";
    if (all.size() > 1) keys += "   \u2190 \u2192: previous, next";
    if (std::any_of(all.begin(), all.end(), [](const BrowseItem& one) { return static_cast<bool>(one.add); }))
        keys += "   a: add";
    std::cout << paint(keys + "   q: end", 2) << '\n' << std::flush;
}

} // namespace

Status browse(const std::vector<BrowseItem>& all, Player& player) {
    if (all.empty()) return failed;
    std::size_t at = 0;
    bool heard = all[at].show(false);
    print_keys(all);
    auto times = times_of(all[at]);
    const Keyboard keyboard;
    const auto move = [&](std::size_t to) {
        at = to;
        heard = all[at].show(false) || heard;
        times = times_of(all[at]);
    };
    for (;;) {
        std::cout << std::flush;
        switch (keyboard.read(std::chrono::milliseconds(100))) {
        case KeyPress::space:
            heard = all[at].show(true) || heard;
            break;
        case KeyPress::right:
            if (all.size() > 1) move((at + 1) % all.size());
            break;
        case KeyPress::left:
            if (all.size() > 1) move((at + all.size() - 1) % all.size());
            break;
        case KeyPress::add:
            if (all[at].add) all[at].add();
            break;
        case KeyPress::quit:
            player.stop();
            while (player.playing())
                std::this_thread::sleep_for(std::chrono::milliseconds(5)); // until it has faded out
            player.report_gaps();
            return heard ? done : failed;
        case KeyPress::other:
            break;
        case KeyPress::none:
            if (auto now = times_of(all[at]); now != times) {
                times = std::move(now);
                all[at].changed();
                heard = all[at].show(false) || heard;
            }
        }
    }
}

} // namespace kiai::tool
