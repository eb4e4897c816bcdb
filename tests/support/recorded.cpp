#include "support/recorded.h"

#include <cstring>
#include <fstream>
#include <iterator>
#include <string>

namespace support {

std::vector<float> recorded(const std::filesystem::path& folder) {
    std::ifstream file(folder / "recorded.raw", std::ios::binary);
    const std::string bytes(std::istreambuf_iterator<char>(file), {});
    std::vector<float> samples(bytes.size() / 8 * 2);
    std::memcpy(samples.data(), bytes.data(), samples.size() * sizeof samples[0]);
    return samples;
}

HeardParts parts_heard(const Signal& heard, const Signal& meant, std::size_t every) {
    constexpr std::size_t length = 240;
    HeardParts parts;
    for (std::size_t at = 0; at + length <= meant.size(); at += every) {
        if (rms(meant, at, at + length) < 0.01) continue;
        ++parts.all;
        parts.found += find_part(heard, meant.data() + at, length) >= 0 ? 1 : 0;
    }
    return parts;
}

} // namespace support
