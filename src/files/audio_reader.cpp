#include "files/audio_reader.h"

#include <fmt/format.h>
#include <sndfile.h>

#include <algorithm>
#include <cmath>
#include <type_traits>

namespace kiai::files {
namespace {

Decoded refuse(FindingCode code, std::string sentence, std::string mend) {
    return {nullptr, code, std::move(sentence), std::move(mend)};
}

/// Sources of at most 16 bits, and lossy ones, keep 16; all others become float.
bool is_narrow(int format) {
    switch (format & SF_FORMAT_SUBMASK) {
    case SF_FORMAT_PCM_24:
    case SF_FORMAT_PCM_32:
    case SF_FORMAT_FLOAT:
    case SF_FORMAT_DOUBLE:
    case SF_FORMAT_ALAC_20:
    case SF_FORMAT_ALAC_24:
    case SF_FORMAT_ALAC_32:
    case SF_FORMAT_DWVW_24:
        return false;
    default:
        return true;
    }
}

/// Reads until the file gives no more: what its header claims is not believed.
template<class Sample>
std::vector<Sample> read_planar(SNDFILE* file, int channels) {
    constexpr sf_count_t chunk = 1 << 14;
    std::vector<Sample> interleaved, buffer(static_cast<std::size_t>(chunk * channels));
    for (;;) {
        sf_count_t frames = 0;
        if constexpr (std::is_same_v<Sample, float>)
            frames = sf_readf_float(file, buffer.data(), chunk);
        else
            frames = sf_readf_short(file, buffer.data(), chunk);
        if (frames <= 0) break;
        interleaved.insert(interleaved.end(), buffer.begin(), buffer.begin() + frames * channels);
    }
    if (channels == 1) {
        interleaved.shrink_to_fit();
        return interleaved;
    }
    const std::size_t frames = interleaved.size() / 2;
    std::vector<Sample> planar(2 * frames);
    for (std::size_t i = 0; i < frames; ++i) {
        planar[i] = interleaved[2 * i];
        planar[frames + i] = interleaved[2 * i + 1];
    }
    return planar;
}

} // namespace

Decoded decode(const std::filesystem::path& path) {
    SF_INFO info{};
    const std::unique_ptr<SNDFILE, decltype(&sf_close)> file(sf_open(path.string().c_str(), SFM_READ, &info),
                                                             &sf_close);
    if (!file) {
        std::string reason = sf_strerror(nullptr);
        while (!reason.empty() && (reason.back() == '.' || reason.back() == '\n')) reason.pop_back();
        return refuse(FindingCode::file_unreadable, fmt::format("cannot be decoded ({})", reason),
                      "export it again as WAV, FLAC or Ogg Vorbis");
    }
    if (info.channels > 2)
        return refuse(FindingCode::file_channels, fmt::format("has {} channels", info.channels),
                      "export it again with one or two");
    if (info.samplerate < 1000 || info.samplerate > 768000)
        return refuse(FindingCode::file_unreadable,
                      fmt::format("claims a rate of {} frames per second", info.samplerate),
                      "export it again at 48000");

    auto audio = std::make_shared<model::Audio>();
    audio->rate = info.samplerate;
    audio->channels = info.channels;
    sf_command(file.get(), SFC_SET_CLIPPING, nullptr,
               SF_TRUE); // a lossy file may decode to more than full scale: no wrap-around
    if (is_narrow(info.format))
        audio->narrow = read_planar<std::int16_t>(file.get(), info.channels);
    else
        audio->wide = read_planar<float>(file.get(), info.channels);
    audio->frames = static_cast<std::int64_t>(std::max(audio->narrow.size(), audio->wide.size())) / info.channels;

    if (audio->frames == 0)
        return refuse(FindingCode::file_empty, "holds no frames", "export it again; the export may have been cut off");
    for (std::size_t i = 0; i < audio->wide.size(); ++i)
        if (!std::isfinite(audio->wide[i]))
            return refuse(FindingCode::file_not_finite,
                          fmt::format("holds a sample that is not a number, at frame {}",
                                      static_cast<std::int64_t>(i) % audio->frames),
                          "export it again, with peaks below full scale or as 24-bit");
    return {std::move(audio), {}, {}, {}};
}

} // namespace kiai::files
