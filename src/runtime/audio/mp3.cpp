#include "runtime/audio/mp3.h"

#include <algorithm>
#include <string>

namespace kiai::runtime {
namespace {

constexpr std::int64_t most_search = 1 << 16; // bytes after the tags in which the first frame is looked for

std::string bytes_at(std::istream& file, std::int64_t at, std::size_t count) {
    std::string bytes(count, '\0');
    file.clear();
    file.seekg(at);
    file.read(bytes.data(), static_cast<std::streamsize>(count));
    bytes.resize(static_cast<std::size_t>(std::max<std::streamsize>(0, file.gcount())));
    return bytes;
}

unsigned byte(const std::string& bytes, std::size_t at) {
    return at < bytes.size() ? static_cast<unsigned char>(bytes[at]) : 0;
}

/// The header of one frame (ISO/IEC 11172-3, 2.4.2.3; 13818-3).
struct Head {
    int layer = 0; ///< 0: it is none
    bool first_version = false, mono = false;
    int bytes = 0, frames = 0;
};

Head head_of(const std::string& bytes, std::size_t at) {
    const unsigned b0 = byte(bytes, at), b1 = byte(bytes, at + 1), b2 = byte(bytes, at + 2), b3 = byte(bytes, at + 3);
    const unsigned version = b1 >> 3 & 3, layer = 4 - (b1 >> 1 & 3), rate_index = b2 >> 2 & 3, bits_index = b2 >> 4;
    if (b0 != 0xff || (b1 & 0xe0) != 0xe0 || version == 1 || layer == 4 || rate_index == 3 || bits_index == 15 ||
        bits_index == 0)
        return {};
    constexpr int kilobits[5][16] = {{0, 32, 64, 96, 128, 160, 192, 224, 256, 288, 320, 352, 384, 416, 448},
                                     {0, 32, 48, 56, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320, 384},
                                     {0, 32, 40, 48, 56, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320},
                                     {0, 32, 48, 56, 64, 80, 96, 112, 128, 144, 160, 176, 192, 224, 256},
                                     {0, 8, 16, 24, 32, 40, 48, 56, 64, 80, 96, 112, 128, 144, 160}};
    constexpr int rates[3] = {44100, 48000, 32000};
    Head head;
    head.first_version = version == 3;
    const int rate = rates[rate_index] >> (version == 3 ? 0 : version == 2 ? 1 : 2);
    const unsigned row = head.first_version ? layer - 1 : layer == 1 ? 3 : 4;
    const int bits = 1000 * kilobits[row][bits_index], padding = b2 >> 1 & 1;
    head.layer = static_cast<int>(layer);
    head.mono = b3 >> 6 == 3;
    head.frames = layer == 1 ? 384 : layer == 3 && !head.first_version ? 576 : 1152;
    head.bytes = layer == 1 ? (12 * bits / rate + padding) * 4 : head.frames / 8 * bits / rate + padding;
    return head;
}

/// Returns the position after all tags before the first frame (ID3v2).
std::int64_t after_tags(std::istream& file) {
    std::int64_t at = 0;
    for (int tags = 0; tags < 16; ++tags) {
        const std::string tag = bytes_at(file, at, 10);
        if (tag.size() < 10 || tag.compare(0, 3, "ID3") != 0) break;
        at += 10 + (static_cast<std::int64_t>(byte(tag, 6)) << 21 | static_cast<std::int64_t>(byte(tag, 7)) << 14 |
                    static_cast<std::int64_t>(byte(tag, 8)) << 7 | static_cast<std::int64_t>(byte(tag, 9)));
        if (byte(tag, 5) & 0x10) at += 10; // it has a foot
    }
    return at;
}

/// Reads the header frame that encoders write before the first frame of sound.
void read_header(const std::string& frame, const Head& head, Mp3& mp3) {
    const std::size_t at = 4 + (head.first_version ? (head.mono ? 17 : 32) : (head.mono ? 9 : 17));
    const std::string name = frame.size() >= at + 4 ? frame.substr(at, 4) : std::string();
    if (name != "Xing" && name != "Info") return;
    const unsigned flags = byte(frame, at + 7);
    mp3.counted = (flags & 1) != 0;
    const std::size_t encoder =
        at + 8 + (flags & 1 ? 4 : 0) + (flags & 2 ? 4 : 0) + (flags & 4 ? 100 : 0) + (flags & 8 ? 4 : 0);
    const unsigned added = byte(frame, encoder + 21) << 4 | byte(frame, encoder + 22) >> 4;
    mp3.trimmed = mp3.counted && byte(frame, encoder) != 0 && added != 0;
}

/// Counts the frames of a file without a header frame.
std::int64_t count_frames(std::istream& file, std::int64_t at) {
    constexpr std::size_t chunk = 1 << 20;
    std::int64_t frames = 0;
    std::string bytes;
    for (std::int64_t begin = at;; begin = at) {
        bytes = bytes_at(file, begin, chunk);
        for (;;) {
            const Head head = head_of(bytes, static_cast<std::size_t>(at - begin));
            if (head.layer == 0) return frames;
            at += head.bytes;
            frames += head.frames;
            if (at - begin + 4 > static_cast<std::int64_t>(bytes.size())) break;
        }
        if (bytes.size() < chunk) return frames;
    }
}

} // namespace

Mp3 read_mp3(std::istream& file) {
    Mp3 mp3;
    const std::int64_t begin = after_tags(file);
    const std::string bytes = bytes_at(file, begin, most_search + 4096);
    for (std::size_t at = 0; at + 4 <= bytes.size() && at < static_cast<std::size_t>(most_search); ++at) {
        const Head head = head_of(bytes, at);
        if (head.layer == 0) continue;
        const std::size_t after = at + static_cast<std::size_t>(head.bytes);
        const bool last = after >= bytes.size(); // a single frame
        const Head next = last ? head : head_of(bytes, after);
        if (!last && (next.layer != head.layer || next.first_version != head.first_version)) continue;
        if (last && at > 0) continue;
        mp3.is = true;
        if (head.layer == 3)
            read_header(bytes.substr(at, static_cast<std::size_t>(head.bytes)), head, mp3);
        else
            mp3.trimmed = true; // the delay is that of layer III
        if (!mp3.counted) mp3.frames = count_frames(file, begin + static_cast<std::int64_t>(at));
        return mp3;
    }
    return mp3;
}

} // namespace kiai::runtime
