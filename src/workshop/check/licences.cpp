#include "workshop/check/licences.h"

#include "core/model/near.h"

#include <algorithm>
#include <array>
#include <utility>
#include <vector>

namespace kiai::workshop {
namespace {

constexpr auto known = std::to_array<std::string_view>({
#include "workshop/check/licences.inc"
});

/// Licences that require no attribution.
constexpr std::array<std::string_view, 8> free_of_demands{"0BSD",     "CC-PDDC", "CC0-1.0",   "MIT-0",
                                                          "PDDL-1.0", "SAX-PD",  "Unlicense", "WTFPL"};

bool has(const auto& list, std::string_view name) {
    return std::find(list.begin(), list.end(), name) != list.end();
}

std::vector<std::string> words_of(std::string_view expression) {
    std::vector<std::string> words;
    std::string word;
    for (const char c : expression) {
        if (c != ' ' && c != '(' && c != ')') {
            word += c;
            continue;
        }
        if (!word.empty()) words.push_back(std::move(word));
        word.clear();
    }
    if (!word.empty()) words.push_back(std::move(word));
    return words;
}

} // namespace

Licence read_licence(std::string_view expression) {
    Licence licence;
    bool exception = false, any_free = false, any_demands = false, choice = false;
    for (const std::string& word : words_of(expression)) {
        if (word == "AND" || word == "OR" || word == "WITH") {
            exception = word == "WITH"; // the next word is an exception, not a licence
            choice = choice || word == "OR";
            continue;
        }
        if (std::exchange(exception, false)) continue;
        if (word.starts_with("LicenseRef-") || word.starts_with("DocumentRef-")) {
            any_free = true; // only its author knows its conditions
            continue;
        }
        const bool later = word.ends_with('+') && has(known, std::string_view(word).substr(0, word.size() - 1));
        if (!has(known, word) && !later && licence.unknown.empty()) {
            licence.unknown = word;
            licence.nearest = model::nearest(word, std::vector<std::string>(known.begin(), known.end()));
        }
        (has(free_of_demands, word) ? any_free : any_demands) = true;
    }
    licence.demands_author = licence.unknown.empty() && any_demands && !(choice && any_free);
    return licence;
}

} // namespace kiai::workshop
