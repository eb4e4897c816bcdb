#include "core/model/one_line.h"

namespace kiai::model {

std::string one_line(std::string_view text) {
    constexpr char digits[] = "0123456789abcdef";
    std::string line;
    for (const char c : text) {
        const auto code = static_cast<unsigned char>(c);
        if (code >= 32 && code != 127)
            line += c;
        else if (c == '\n')
            line += "\\n";
        else if (c == '\t')
            line += "\\t";
        else if (c == '\r')
            line += "\\r";
        else
            line += {'\\', 'x', digits[code >> 4], digits[code & 15]};
    }
    return line;
}

} // namespace kiai::model
