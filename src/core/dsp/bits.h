// The bits of a number. std::bit_cast, for standard libraries that are without it.
#pragma once

#include <cstring>

namespace kiai::dsp {

/// Returns the value of another type that has the same bits.
template<class To, class From>
To bits_as(const From& from) noexcept {
    static_assert(sizeof(To) == sizeof(From));
    To to;
    std::memcpy(&to, &from, sizeof to);
    return to;
}

} // namespace kiai::dsp
