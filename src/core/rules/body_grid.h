// Finds the bodies near a position without a test of all bodies.
#pragma once

#include "core/dsp/bits.h"
#include "core/model/chance.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cstdint>
#include <vector>

namespace kiai::rules {

/// A set of bodies by their indices.
class BodySet {
  public:
    static constexpr int most = 512;
    void add(int body) noexcept { words_[word(body)] |= bit(body); }
    void remove(int body) noexcept { words_[word(body)] &= ~bit(body); }
    bool has(int body) const noexcept { return (words_[word(body)] & bit(body)) != 0; }
    void add(const BodySet& other) noexcept {
        for (std::size_t w = 0; w < words_.size(); ++w) words_[w] |= other.words_[w];
    }
    /// Calls `use` with each body, ascending; `use` may change the set.
    template<class Use>
    void for_each(const Use& use) const noexcept {
        const auto words = words_;
        for (std::size_t w = 0; w < words.size(); ++w)
            for (std::uint64_t left = words[w]; left != 0; left &= left - 1)
                use(static_cast<int>(w) * 64 + std::countr_zero(left));
    }

  private:
    static std::size_t word(int body) noexcept { return static_cast<std::size_t>(body) / 64; }
    static std::uint64_t bit(int body) noexcept { return std::uint64_t{1} << (body % 64); }
    std::array<std::uint64_t, most / 64> words_{};
};

/// A hashed grid per size of body: a body is in one cell of the level whose cells are two to four times as wide as its
/// reach, so that a search for bodies of its size looks into four to nine cells.
class BodyGrid {
  public:
    BodyGrid() : heads_(bucket_count, none), entries_(BodySet::most), in_(levels) {}

    /// Puts a body with its middle at x, y that extends `reach` to each side. [rt]
    void put(int body, double x, double y, double reach) noexcept {
        Entry& entry = entries_[static_cast<std::size_t>(body)];
        const int level = level_of(reach);
        const std::size_t place = bucket(level, cell(x, level), cell(y, level));
        if (entry.level == level && entry.bucket == place) return; // it moved within its cell
        remove(body);
        entry = {static_cast<std::uint16_t>(place), heads_[place], none, static_cast<std::int16_t>(level)};
        if (entry.next >= 0) entries_[static_cast<std::size_t>(entry.next)].previous = static_cast<std::int16_t>(body);
        heads_[place] = static_cast<std::int16_t>(body);
        in_[static_cast<std::size_t>(level)].add(body);
        if (++count_[static_cast<std::size_t>(level)] == 1) used_ |= std::uint64_t{1} << level;
    }
    void remove(int body) noexcept {
        Entry& entry = entries_[static_cast<std::size_t>(body)];
        if (entry.level < 0) return;
        const auto level = static_cast<std::size_t>(entry.level);
        (entry.previous >= 0 ? entries_[static_cast<std::size_t>(entry.previous)].next : heads_[entry.bucket]) =
            entry.next;
        if (entry.next >= 0) entries_[static_cast<std::size_t>(entry.next)].previous = entry.previous;
        entry.level = -1;
        in_[level].remove(body);
        if (--count_[level] == 0) used_ &= ~(std::uint64_t{1} << level);
    }
    /// Returns all bodies that may be within `reach` of x, y along both axes, and perhaps others. [rt]
    BodySet near(double x, double y, double reach) const noexcept {
        BodySet found;
        for (std::uint64_t left_over = used_; left_over != 0; left_over &= left_over - 1) {
            const int level = std::countr_zero(left_over);
            const double around = reach + power_of_two(level + lowest);
            const std::int64_t left = cell(x - around, level), right = cell(x + around, level),
                               top = cell(y - around, level), bottom = cell(y + around, level);
            const auto wide = static_cast<double>(right - left + 1), high = static_cast<double>(bottom - top + 1);
            if (wide * high > 2.0 * count_[static_cast<std::size_t>(level)] + 16) { // more cells than bodies
                found.add(in_[static_cast<std::size_t>(level)]);
                continue;
            }
            for (std::int64_t row = top; row <= bottom; ++row)
                for (std::int64_t column = left; column <= right; ++column)
                    for (int body = heads_[bucket(level, column, row)]; body >= 0;
                         body = entries_[static_cast<std::size_t>(body)].next)
                        found.add(body);
        }
        return found;
    }

  private:
    static constexpr std::int16_t none = -1;
    struct Entry {
        std::uint16_t bucket = 0;
        std::int16_t next = none, previous = none;
        std::int16_t level = -1; ///< -1: not in the grid
    };
    static constexpr std::size_t bucket_count = 1024;
    static constexpr int levels = 64, lowest = -24; ///< bodies that reach up to 2^-24 … 2^39

    // Calls of the C library take longer than the rest of a search. A power of two multiplies exactly.
    static double power_of_two(int exponent) noexcept {
        return dsp::bits_as<double>(static_cast<std::uint64_t>(exponent + 1023) << 52);
    }
    static int level_of(double reach) noexcept {
        const int exponent = static_cast<int>(dsp::bits_as<std::uint64_t>(reach) >> 52) - 1022; // reach < 2^exponent
        return reach > 0 ? std::clamp(exponent - lowest, 0, levels - 1) : 0;
    }
    static std::int64_t cell(double at, int level) noexcept {
        constexpr double far = 1e15;
        const double cells = std::clamp(at * power_of_two(-(level + lowest + 1)), -far, far);
        const auto whole = static_cast<std::int64_t>(cells);
        return whole - (cells < static_cast<double>(whole) ? 1 : 0);
    }
    static std::size_t bucket(int level, std::int64_t column, std::int64_t row) noexcept {
        const std::uint64_t mixed =
            model::scatter(static_cast<std::uint64_t>(column) * 0x9e3779b97f4a7c15u ^ static_cast<std::uint64_t>(row) ^
                           static_cast<std::uint64_t>(level) << 56);
        return mixed & (bucket_count - 1);
    }

    std::vector<std::int16_t> heads_; ///< by bucket: its first body; -1: none
    std::vector<Entry> entries_;
    std::vector<BodySet> in_; ///< by level
    std::array<int, levels> count_{};
    std::uint64_t used_ = 0; ///< levels with bodies, one bit each
};

} // namespace kiai::rules
