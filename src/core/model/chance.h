// Chance as a function without state: the choices of a play depend only on what it is and how many came before. Another
// sound, another layer or a refused play therefore changes no other choice.
#pragma once

#include <kiai/name.h>

#include <cstdint>
#include <string_view>

namespace kiai::model {

/// The purpose of a draw. A number never gets a second meaning, because old seeds would then give other sounds.
enum class Purpose : std::uint8_t {
    take = 1,
    pitch = 2,
    gain = 3,
    pan = 4,
    delay = 5,
    chance = 6,
    start = 7,
    lfo = 8,
    interval = 9
};

constexpr std::uint32_t all_layers = 0xffff; ///< the layer number of what is drawn once for a whole play

constexpr std::uint64_t hash(std::string_view text) noexcept {
    return detail::hash(text);
}

/// The finaliser of SplitMix64 (Steele, Lea, Flood 2014): every input bit changes half of the output bits.
constexpr std::uint64_t scatter(std::uint64_t x) noexcept {
    x += 0x9e3779b97f4a7c15u;
    x = (x ^ (x >> 30)) * 0xbf58476d1ce4e5b9u;
    x = (x ^ (x >> 27)) * 0x94d049bb133111ebu;
    return x ^ (x >> 31);
}

/// Identifies a draw of a play.
struct Draw {
    std::uint64_t seed = 0;
    std::uint64_t name = 0;  ///< hash of the sound's name
    std::uint64_t count = 0; ///< its accepted plays before this one
    std::uint32_t layer = 0;

    /// Returns a uniform number in [0, 1). `index` distinguishes several draws for one purpose.
    constexpr double operator()(Purpose purpose, std::uint32_t index = 0) const noexcept {
        std::uint64_t x = scatter(seed ^ name);
        x = scatter(x ^ count);
        x = scatter(x ^ (static_cast<std::uint64_t>(layer) << 40) ^ (static_cast<std::uint64_t>(purpose) << 32) ^
                    index);
        return static_cast<double>(x >> 11) * 0x1p-53;
    }
};

} // namespace kiai::model
