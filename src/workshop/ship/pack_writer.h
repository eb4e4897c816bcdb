// Writes the fields of a pack as bytes; PackReader reads them.
#pragma once

#include <bit>
#include <cstdint>
#include <string>
#include <vector>

namespace kiai::workshop {

class PackWriter {
  public:
    const std::string& bytes() const noexcept { return bytes_; }

    template<class Byte>
    void byte(Byte value) {
        bytes_ += static_cast<char>(value);
    }
    template<class Number>
    void fixed(Number value) {
        for (std::size_t i = 0; i < sizeof(Number); ++i)
            byte(static_cast<unsigned char>(static_cast<std::uint64_t>(value) >> (8 * i)));
    }
    void real(double value) { fixed(std::bit_cast<std::uint64_t>(value)); }
    template<class Number>
    void number(Number value) {
        auto bits = static_cast<std::uint64_t>(value);
        for (; bits > 127; bits >>= 7) byte(static_cast<unsigned char>(bits | 128));
        byte(static_cast<unsigned char>(bits));
    }
    template<class Enum>
    void choice(Enum value, Enum) {
        byte(static_cast<unsigned char>(value));
    }
    void text(const std::string& value) {
        number(value.size());
        bytes_ += value;
    }
    template<class Item, class Write>
    void list(std::vector<Item>& items, const Write& write) {
        number(items.size());
        for (Item& item : items) write(item);
    }
    struct Nested {
        ~Nested() {}
    };
    Nested nested() { return {}; }

  private:
    std::string bytes_;
};

} // namespace kiai::workshop
