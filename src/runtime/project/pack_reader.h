// Reads the fields of a pack from untrusted bytes.
#pragma once

#include "core/dsp/bits.h"

#include <cstddef>
#include <cstdint>
#include <span>
#include <string>
#include <type_traits>
#include <vector>

namespace kiai::runtime {

/// After a field that does not fit the bytes, `ok` is false, and all later fields are empty.
class PackReader {
  public:
    explicit PackReader(std::span<const std::byte> bytes) : bytes_(bytes) {}
    bool ok() const noexcept { return ok_; }
    bool at_end() const noexcept { return bytes_.empty(); }

    template<class Byte>
    void byte(Byte& into) {
        into = static_cast<Byte>(next());
    }
    template<class Number>
    void fixed(Number& into) {
        std::uint64_t bits = 0;
        for (std::size_t i = 0; i < sizeof(Number); ++i) bits |= std::uint64_t{next()} << (8 * i);
        into = static_cast<Number>(bits);
    }
    void real(double& into) {
        std::uint64_t bits = 0;
        fixed(bits);
        into = dsp::bits_as<double>(bits);
    }
    /// Reads a number from 0 in as few bytes as it needs.
    template<class Number>
    void number(Number& into) {
        std::uint64_t bits = 0;
        for (int shift = 0; shift < 64; shift += 7) {
            const std::uint64_t part = next();
            bits |= (part & 127) << shift;
            if (part < 128) break;
        }
        into = static_cast<Number>(bits);
        if (into < 0 || static_cast<std::uint64_t>(into) != bits) fail();
    }
    template<class Enum>
    void choice(Enum& into, Enum last) {
        const auto number = next();
        if (number > static_cast<std::uint8_t>(last)) return fail();
        into = static_cast<Enum>(number);
    }
    void text(std::string& into) {
        const std::size_t size = count();
        into.assign(reinterpret_cast<const char*>(bytes_.data()), size);
        bytes_ = bytes_.subspan(size);
    }
    template<class Item, class Read>
    void list(std::vector<Item>& into, const Read& read) {
        const std::size_t size = count();
        for (std::size_t i = 0; i < size && ok_; ++i) read(into.emplace_back());
    }

    /// Limits the nesting of entries to the limit of kiai.toml.
    class Nested {
      public:
        explicit Nested(PackReader& reader) : reader_(reader) {
            if (++reader_.depth_ > 80) reader_.fail();
        }
        ~Nested() { --reader_.depth_; }
        Nested(const Nested&) = delete;
        Nested& operator=(const Nested&) = delete;

      private:
        PackReader& reader_;
    };
    Nested nested() { return Nested(*this); }

  private:
    std::uint8_t next() {
        if (bytes_.empty()) {
            ok_ = false;
            return 0;
        }
        const auto value = static_cast<std::uint8_t>(bytes_[0]);
        bytes_ = bytes_.subspan(1);
        return value;
    }
    /// Reads a number of items, each of which takes at least a byte.
    std::size_t count() {
        std::uint64_t size = 0;
        number(size);
        if (size > bytes_.size()) {
            fail();
            return 0;
        }
        return static_cast<std::size_t>(size);
    }
    void fail() {
        ok_ = false;
        bytes_ = {};
    }

    std::span<const std::byte> bytes_;
    int depth_ = 0;
    bool ok_ = true;
};

} // namespace kiai::runtime
