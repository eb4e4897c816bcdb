#include <kiai/workshop/rehearse.h>

#include <sndfile.h>

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <memory>

namespace kiai::inline v0 {
namespace {

/// The finaliser of SplitMix64 (Steele, Lea, Flood 2014): uniform in [0, 1), the same for the same count.
double even(std::uint64_t count) {
    std::uint64_t x = count * 0x9e3779b97f4a7c15u;
    x = (x ^ (x >> 30)) * 0xbf58476d1ce4e5b9u;
    x = (x ^ (x >> 27)) * 0x94d049bb133111ebu;
    return static_cast<double>((x ^ (x >> 31)) >> 11) * 0x1p-53;
}

/// Quantises to that many bits in the upper bits of an int, as the file library expects. The dither makes the error
/// independent of the signal.
std::vector<int> dithered(const std::vector<float>& samples, int bits) {
    const double full = std::ldexp(1.0, bits - 1);
    std::vector<int> out(samples.size());
    for (std::size_t i = 0; i < samples.size(); ++i) {
        const double noise = even(2 * i) + even(2 * i + 1) - 1;
        const double step = std::clamp(std::round(samples[i] * full + noise), -full, full - 1);
        out[i] = static_cast<int>(static_cast<std::int64_t>(step) * (std::int64_t{1} << (32 - bits)));
    }
    return out;
}

} // namespace

std::string write_wav(const std::filesystem::path& path, const std::vector<float>& samples, int sample_rate, int bits) {
    SF_INFO info{};
    info.samplerate = sample_rate;
    info.channels = 2;
    info.format = SF_FORMAT_WAV | (bits == 16 ? SF_FORMAT_PCM_16 : bits == 24 ? SF_FORMAT_PCM_24 : SF_FORMAT_FLOAT);
    const std::unique_ptr<SNDFILE, decltype(&sf_close)> file(sf_open(path.string().c_str(), SFM_WRITE, &info),
                                                             &sf_close);
    if (!file) return path.string() + ": " + sf_strerror(nullptr);
    sf_command(file.get(), SFC_SET_ADD_PEAK_CHUNK, nullptr,
               SF_FALSE);                               // it holds the time of day: the same output, the same file
    sf_set_string(file.get(), SF_STR_SOFTWARE, "Kiai"); // by which the tool knows its own files again
    const auto frames = static_cast<sf_count_t>(samples.size() / 2);
    const bool whole = bits == 16 || bits == 24;
    const sf_count_t written = whole ? sf_writef_int(file.get(), dithered(samples, bits).data(), frames)
                                     : sf_writef_float(file.get(), samples.data(), frames);
    if (written != frames) return path.string() + ": " + sf_strerror(file.get());
    sf_write_sync(file.get());
    return {};
}

} // namespace kiai::inline v0
