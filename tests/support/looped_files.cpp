#include "looped_files.h"

#include <cmath>

namespace support {

std::string wav_with_loop(const Signal& samples, std::uint32_t first, std::uint32_t last) {
    const auto little = [](std::uint32_t value, int bytes) {
        std::string out;
        for (int i = 0; i < bytes; ++i) out += static_cast<char>(value >> 8 * i & 255);
        return out;
    };
    const auto chunk = [&](const std::string& name, const std::string& data) {
        return name + little(static_cast<std::uint32_t>(data.size()), 4) + data;
    };
    std::string data, smpl;
    for (const float sample : samples)
        data += little(static_cast<std::uint32_t>(static_cast<std::int32_t>(std::lrint(sample * 32767))), 2);
    for (const std::uint32_t value : {0u, 0u, 20833u, 60u, 0u, 0u, 0u, 1u, 0u, 0u, 0u, first, last, 0u, 0u})
        smpl += little(value, 4);
    const std::string format =
        little(1, 2) + little(1, 2) + little(48000, 4) + little(96000, 4) + little(2, 2) + little(16, 2);
    const std::string body = "WAVE" + chunk("fmt ", format) + chunk("data", data) + chunk("smpl", smpl);
    return "RIFF" + little(static_cast<std::uint32_t>(body.size()), 4) + body;
}

std::string aiff_with_loop(const Signal& samples, std::uint32_t begin, std::uint32_t end) {
    const auto big = [](std::uint64_t value, int bytes) {
        std::string out;
        for (int i = bytes - 1; i >= 0; --i) out += static_cast<char>(value >> 8 * i & 255);
        return out;
    };
    const auto chunk = [&](const std::string& name, const std::string& data) {
        return name + big(static_cast<std::uint32_t>(data.size()), 4) + data + std::string(data.size() % 2, '\0');
    };
    const auto frames = static_cast<std::uint32_t>(samples.size());
    const std::string rate = std::string("\x40\x0e\xbb\x80", 4) + std::string(6, '\0'); // 48000 in 80 bits
    std::string data(8, '\0');                                                          // offset and block size
    for (const float sample : samples)
        data += big(static_cast<std::uint32_t>(static_cast<std::int32_t>(std::lrint(sample * 32767))), 2);
    const std::string markers = big(2, 2) + big(1, 2) + big(begin, 4) + big(0, 2) + big(2, 2) + big(end, 4) + big(0, 2);
    const std::string instrument = big(60, 1) + big(0, 1) + big(0, 1) + big(127, 1) + big(0, 1) + big(127, 1) +
                                   big(0, 2) + big(1, 2) + big(1, 2) + big(2, 2) + big(0, 6);
    const std::string body = "AIFF" + chunk("COMM", big(1, 2) + big(frames, 4) + big(16, 2) + rate) +
                             chunk("MARK", markers) + chunk("INST", instrument) + chunk("SSND", data);
    return "FORM" + big(static_cast<std::uint32_t>(body.size()), 4) + body;
}

} // namespace support
