#include "runtime/audio/claims.h"

#include <algorithm>
#include <string>
#include <string_view>

namespace kiai::runtime {
namespace {

constexpr std::int64_t unknown_size = 0xffffffff; // written by encoders that could not seek back

std::uint32_t number_at(std::string_view bytes, std::size_t at, bool big_endian) {
    std::uint32_t value = 0;
    for (std::size_t i = 0; i < 4; ++i)
        value = value << 8 | static_cast<unsigned char>(bytes[at + (big_endian ? i : 3 - i)]);
    return value;
}

/// Reads a file in parts that hold several chunk heads, since a stream forgets at each seek what it has read.
class Parts {
  public:
    explicit Parts(std::istream& file) : file_(file) {}
    /// Returns that many bytes, or fewer at the end of the file. They are valid until the next call.
    std::string_view at(std::int64_t place, std::size_t count) {
        const auto held = static_cast<std::int64_t>(part_.size()), wanted = static_cast<std::int64_t>(count);
        if (place < begin_ || place + wanted > begin_ + held) fill(place, std::max(count, least));
        return std::string_view(part_).substr(static_cast<std::size_t>(place - begin_), count);
    }

  private:
    static constexpr std::size_t least = 1024;
    void fill(std::int64_t place, std::size_t count) {
        begin_ = place;
        part_.resize(count);
        file_.clear();
        file_.seekg(place);
        file_.read(part_.data(), static_cast<std::streamsize>(count));
        part_.resize(static_cast<std::size_t>(file_.gcount()));
    }

    std::istream& file_;
    std::string part_;
    std::int64_t begin_ = 0;
};

void claim(Claims& claims, std::int64_t data, std::int64_t begin, std::int64_t size) {
    if (data == unknown_size || data == 0) return;
    claims.data = data;
    claims.present = std::clamp<std::int64_t>(size - begin, 0, data);
}

/// Reads WAV and AIFF: a list of chunks, each with a name of four letters and its length.
void read_chunks(Parts& file, std::int64_t size, bool big_endian, Claims& claims) {
    for (std::int64_t at = 12, chunks = 0; at + 8 <= size && chunks < 1000; ++chunks) {
        const std::string_view head = file.at(at, 12);
        if (head.size() < 12) return;
        const std::string_view name = head.substr(0, 4);
        const std::int64_t length = number_at(head, 4, big_endian);
        if (name == "fact") claims.frames = number_at(head, 8, big_endian);
        if (name == "data") claim(claims, length, at + 8, size);
        if (name == "SSND") claim(claims, length, at + 8, size);
        at += 8 + length + length % 2;
    }
}

void read_ogg_end(Parts& file, std::int64_t size, Claims& claims) {
    std::string_view end;
    std::size_t page = std::string_view::npos;
    for (const std::int64_t most : {8000, 66000}) { // most pages are short; none has more than 65,307 bytes
        end = file.at(std::max<std::int64_t>(0, size - most), static_cast<std::size_t>(most));
        page = end.rfind("OggS");
        if (page != std::string_view::npos) break;
    }
    constexpr std::size_t head = 27;
    constexpr char last_of_stream = 4;
    claims.cut = true;
    if (page == std::string_view::npos || page + head > end.size() || (end[page + 5] & last_of_stream) == 0) return;
    const auto byte = [&](std::size_t at) { return at < end.size() ? static_cast<unsigned char>(end[at]) : 255u; };
    const std::size_t segments = byte(page + 26);
    std::size_t length = head + segments;
    for (std::size_t i = 0; i < segments; ++i) length += byte(page + head + i);
    claims.cut = page + length > end.size();
}

} // namespace

Claims read_claims(std::istream& file) {
    Claims claims;
    file.seekg(0, std::ios::end);
    const std::int64_t size = file ? static_cast<std::int64_t>(file.tellg()) : 0;
    Parts parts(file);
    const std::string_view head = parts.at(0, 12);
    if (head.size() < 12) return claims;
    const std::string outer(head.substr(0, 4)), inner(head.substr(8, 4));
    if (outer == "RIFF" && inner == "WAVE") read_chunks(parts, size, false, claims);
    if (outer == "FORM" && (inner == "AIFF" || inner == "AIFC")) read_chunks(parts, size, true, claims);
    if (outer == ".snd") claim(claims, number_at(head, 8, true), number_at(head, 4, true), size);
    if (outer == "OggS") read_ogg_end(parts, size, claims);
    return claims;
}

} // namespace kiai::runtime
