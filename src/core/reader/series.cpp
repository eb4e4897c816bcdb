#include "core/reader/series.h"

namespace kiai::reader {

std::string series_of(const std::string& name) {
    const std::size_t dash = name.rfind('-');
    if (dash == std::string::npos || number_in_series(name, name.substr(0, dash)) < 0) return {};
    return name.substr(0, dash);
}

int number_in_series(const std::string& name, const std::string& series) {
    if (name.size() <= series.size() + 1 || name.size() > series.size() + 8 || !name.starts_with(series) ||
        name[series.size()] != '-')
        return -1;
    int number = 0;
    for (std::size_t i = series.size() + 1; i < name.size(); ++i) {
        if (name[i] < '0' || name[i] > '9') return -1;
        number = 10 * number + (name[i] - '0');
    }
    return number;
}

} // namespace kiai::reader
