#include "core/model/fill.h"

namespace kiai::model {

std::string fill_gaps(std::string_view pattern, std::initializer_list<std::string> parts) {
    std::string text;
    std::size_t next = 0;
    for (std::size_t at = 0; at < pattern.size(); ++at) {
        const std::string_view rest = pattern.substr(at);
        const bool numbered = rest.size() > 2 && rest[1] >= '0' && rest[1] <= '9' && rest[2] == '}';
        if (rest[0] != '{' || (!numbered && !rest.starts_with("{}"))) {
            text += rest[0];
            continue;
        }
        const std::size_t which = numbered ? static_cast<std::size_t>(rest[1] - '0') : next++;
        if (which < parts.size()) text += parts.begin()[which];
        at += numbered ? 2 : 1;
    }
    return text;
}

} // namespace kiai::model
