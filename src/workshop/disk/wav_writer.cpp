#include "workshop/disk/dither.h"

#include <kiai/workshop/rehearse.h>

#include <sndfile.h>

#include <memory>

namespace kiai::inline v0 {
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
    const sf_count_t written = whole ? sf_writef_int(file.get(), workshop::dithered(samples, bits).data(), frames)
                                     : sf_writef_float(file.get(), samples.data(), frames);
    if (written != frames) return path.string() + ": " + sf_strerror(file.get());
    sf_write_sync(file.get());
    return {};
}

} // namespace kiai::inline v0
