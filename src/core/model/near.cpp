#include "core/model/near.h"

#include "core/model/ascii.h"

#include <algorithm>
#include <cctype>

namespace kiai::model {
namespace {

/// Removes the most common differences: letter case, separators, a file extension.
std::string plain(std::string_view name) {
    const std::size_t dot = name.rfind('.');
    if (dot != std::string_view::npos && dot > 0 && name.size() - dot <= 6) name = name.substr(0, dot);
    std::string out;
    for (const char c : name)
        if (c != '-' && c != '_' && c != ' ') out += lower(c);
    return out;
}

/// Returns the edit distance: insertions, deletions, substitutions and swaps of neighbours (Damerau 1964, optimal
/// string alignment).
int slips(const std::string& a, const std::string& b) {
    std::vector<std::vector<int>> cost(a.size() + 1, std::vector<int>(b.size() + 1));
    for (std::size_t i = 0; i <= a.size(); ++i) cost[i][0] = static_cast<int>(i);
    for (std::size_t j = 0; j <= b.size(); ++j) cost[0][j] = static_cast<int>(j);
    for (std::size_t i = 1; i <= a.size(); ++i) {
        for (std::size_t j = 1; j <= b.size(); ++j) {
            const bool same = a[i - 1] == b[j - 1];
            cost[i][j] = std::min({cost[i - 1][j] + 1, cost[i][j - 1] + 1, cost[i - 1][j - 1] + (same ? 0 : 1)});
            if (i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1])
                cost[i][j] = std::min(cost[i][j], cost[i - 2][j - 2] + 1);
        }
    }
    return cost[a.size()][b.size()];
}

} // namespace

bool same_but_for_case(std::string_view a, std::string_view b) {
    return std::equal(a.begin(), a.end(), b.begin(), b.end(), [](char x, char y) { return lower(x) == lower(y); });
}

std::string nearest(std::string_view wanted, const std::vector<std::string>& names) {
    const std::string want = plain(wanted.substr(0, 64));
    const std::string* best = nullptr;
    int least = 1 + std::max(1, static_cast<int>(want.size()) / 3); // one slip in a short name, more in a long one
    for (const std::string& name : names) {
        const int now = slips(want, plain(name));
        if (now < least) best = &name, least = now;
    }
    return best ? *best : std::string();
}

} // namespace kiai::model
