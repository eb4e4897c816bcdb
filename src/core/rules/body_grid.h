// Finds the bodies near a position without a test of all bodies.
#pragma once

#include "core/model/chance.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
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

/// A hashed grid per size of body: a body is in one cell of the level whose cells are one to two times as wide as the
/// body.
class BodyGrid {
  public:
    BodyGrid() : heads_(bucket_count, -1), entries_(BodySet::most) {}

    /// Puts a body with its middle at x, y that extends `reach` to each side. [rt]
    void put(int body, double x, double y, double reach) noexcept {
        remove(body);
        Entry& entry = entries_[static_cast<std::size_t>(body)];
        entry.level = level_of(reach);
        entry.bucket = bucket(entry.level, cell(x, entry.level), cell(y, entry.level));
        entry.next = heads_[entry.bucket];
        entry.previous = -1;
        if (entry.next >= 0) entries_[static_cast<std::size_t>(entry.next)].previous = body;
        heads_[entry.bucket] = body;
        entry.in = true;
        ++count_[static_cast<std::size_t>(entry.level)];
        all_.add(body);
    }
    void remove(int body) noexcept {
        Entry& entry = entries_[static_cast<std::size_t>(body)];
        if (!entry.in) return;
        (entry.previous >= 0 ? entries_[static_cast<std::size_t>(entry.previous)].next : heads_[entry.bucket]) =
            entry.next;
        if (entry.next >= 0) entries_[static_cast<std::size_t>(entry.next)].previous = entry.previous;
        entry.in = false;
        --count_[static_cast<std::size_t>(entry.level)];
        all_.remove(body);
    }
    /// Returns all bodies that may be within `reach` of x, y along both axes, and perhaps others. [rt]
    BodySet near(double x, double y, double reach) const noexcept {
        BodySet found;
        for (int level = 0; level < levels; ++level) {
            const int count = count_[static_cast<std::size_t>(level)];
            if (count == 0) continue;
            const double around = reach + width(level);
            const std::int64_t left = cell(x - around, level), right = cell(x + around, level),
                               top = cell(y - around, level), bottom = cell(y + around, level);
            const auto wide = static_cast<double>(right - left + 1), high = static_cast<double>(bottom - top + 1);
            if (wide * high > 2.0 * count + 16) return all_; // there are more cells than bodies
            for (std::int64_t row = top; row <= bottom; ++row)
                for (std::int64_t column = left; column <= right; ++column)
                    for (int body = heads_[bucket(level, column, row)]; body >= 0;
                         body = entries_[static_cast<std::size_t>(body)].next)
                        found.add(body);
        }
        return found;
    }

  private:
    struct Entry {
        int level = 0, next = -1, previous = -1;
        std::size_t bucket = 0;
        bool in = false;
    };
    static constexpr std::size_t bucket_count = 1024;
    static constexpr int levels = 64, lowest = -24; ///< cells 2^-24 … 2^39 wide

    static double width(int level) noexcept { return std::ldexp(1.0, level + lowest); }
    static int level_of(double reach) noexcept {
        int exponent = 0;
        std::frexp(reach, &exponent); // reach < 2^exponent
        return reach > 0 ? std::clamp(exponent - lowest, 0, levels - 1) : 0;
    }
    static std::int64_t cell(double at, int level) noexcept {
        constexpr double far = 1e15;
        return static_cast<std::int64_t>(std::floor(std::clamp(at / width(level), -far, far)));
    }
    static std::size_t bucket(int level, std::int64_t column, std::int64_t row) noexcept {
        const std::uint64_t mixed =
            model::scatter(static_cast<std::uint64_t>(column) * 0x9e3779b97f4a7c15u ^ static_cast<std::uint64_t>(row) ^
                           static_cast<std::uint64_t>(level) << 56);
        return mixed & (bucket_count - 1);
    }

    std::vector<int> heads_; ///< by bucket: its first body; -1: none
    std::vector<Entry> entries_;
    std::array<int, levels> count_{};
    BodySet all_;
};

} // namespace kiai::rules
