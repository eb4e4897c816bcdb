// Keeps lines of text until they are fetched.
#pragma once

#include <algorithm>
#include <cstddef>
#include <cstring>
#include <deque>
#include <optional>
#include <string>
#include <string_view>

namespace kiai::runtime {

/// Keeps the last lines and drops the oldest if there are more.
class KeptLines {
  public:
    void add(std::string line) {
        if (lines_.size() == most) lines_.pop_front();
        lines_.push_back(std::move(line));
    }
    std::optional<std::string> take() {
        if (lines_.empty()) return std::nullopt;
        std::string line = std::move(lines_.front());
        lines_.pop_front();
        return line;
    }

  private:
    static constexpr std::size_t most = 1024;
    std::deque<std::string> lines_;
};

/// Copies as much of a line as fits, with a zero byte, and returns its full length. A UTF-8 character is not cut.
inline std::size_t put(std::string_view line, char* text, std::size_t size) noexcept {
    if (!text || size == 0) return line.size();
    std::size_t count = std::min(line.size(), size - 1);
    if (count < line.size())
        while (count > 0 && (static_cast<unsigned char>(line[count]) & 0xc0) == 0x80) --count;
    std::memcpy(text, line.data(), count);
    text[count] = '\0';
    return line.size();
}

} // namespace kiai::runtime
