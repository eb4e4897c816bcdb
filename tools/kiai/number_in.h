// Options that take a number of a range.
#pragma once

#include <CLI/CLI.hpp>

#include <fmt/format.h>

#include <charconv>
#include <limits>
#include <string>
#include <type_traits>

namespace kiai::tool {

/// Checks that an option is a number from `low` to `high`, both included; `Number` is the type of the option.
template<class Number>
CLI::Validator number_in(Number low, Number high = std::numeric_limits<Number>::max()) {
    const bool bounded = high != std::numeric_limits<Number>::max();
    const std::string range = bounded ? fmt::format("from {} to {}", low, high) : fmt::format("from {}", low);
    const auto check = [low, high, range](const std::string& text) -> std::string {
        Number number{};
        const char* end = text.data() + text.size();
        const auto [rest, error] = std::from_chars(text.data(), end, number);
        if (error == std::errc{} && rest == end && number >= low && number <= high) return {};
        return fmt::format("\"{}\" is not a{} number {}", text, std::is_integral_v<Number> ? " whole" : "", range);
    };
    return CLI::Validator(check, range, "");
}

} // namespace kiai::tool
