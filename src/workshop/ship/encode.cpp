#include "workshop/ship/encode.h"

#include <sndfile.h>

#include <algorithm>
#include <cstring>
#include <memory>

namespace kiai::workshop {
namespace {

/// The memory that the file library writes to.
struct Memory {
    std::string bytes;
    std::size_t at = 0;

    static sf_count_t length(void* self) { return static_cast<sf_count_t>(static_cast<Memory*>(self)->bytes.size()); }
    static sf_count_t tell(void* self) { return static_cast<sf_count_t>(static_cast<Memory*>(self)->at); }
    static sf_count_t seek(sf_count_t by, int whence, void* self) {
        auto& memory = *static_cast<Memory*>(self);
        const sf_count_t to = by + (whence == SEEK_SET ? 0 : whence == SEEK_END ? length(self) : tell(self));
        if (to < 0) return -1;
        memory.at = static_cast<std::size_t>(to);
        return to;
    }
    static sf_count_t write(const void* from, sf_count_t count, void* self) {
        auto& memory = *static_cast<Memory*>(self);
        const auto size = static_cast<std::size_t>(count);
        if (memory.bytes.size() < memory.at + size) memory.bytes.resize(memory.at + size);
        std::memcpy(memory.bytes.data() + memory.at, from, size);
        memory.at += size;
        return count;
    }
    static sf_count_t read(void* into, sf_count_t count, void* self) {
        auto& memory = *static_cast<Memory*>(self);
        const std::size_t size =
            std::min(static_cast<std::size_t>(count), memory.bytes.size() - std::min(memory.at, memory.bytes.size()));
        std::memcpy(into, memory.bytes.data() + memory.at, size);
        memory.at += size;
        return static_cast<sf_count_t>(size);
    }
};

int format_of(const model::Audio& audio, Encoding encoding) {
    const int whole = audio.wide.empty() ? SF_FORMAT_PCM_16 : SF_FORMAT_PCM_24;
    switch (encoding) {
    case Encoding::ogg:
        return SF_FORMAT_OGG | SF_FORMAT_VORBIS;
    case Encoding::opus:
        return SF_FORMAT_OGG | SF_FORMAT_OPUS;
    case Encoding::mp3:
        return SF_FORMAT_MPEG | SF_FORMAT_MPEG_LAYER_III;
    case Encoding::wav:
        return SF_FORMAT_WAV | whole;
    default:
        return SF_FORMAT_FLAC | whole;
    }
}

} // namespace

Encoded encode(const model::Audio& audio, Encoding encoding, double quality) {
    Memory memory;
    SF_VIRTUAL_IO calls{&Memory::length, &Memory::seek, &Memory::read, &Memory::write, &Memory::tell};
    SF_INFO info{};
    info.samplerate = audio.rate;
    info.channels = audio.channels;
    info.format = format_of(audio, encoding);
    std::unique_ptr<SNDFILE, decltype(&sf_close)> file(sf_open_virtual(&calls, SFM_WRITE, &info, &memory), &sf_close);
    if (!file) return {{}, sf_strerror(nullptr)};
    if (encoding == Encoding::mp3) {
        double compression = 1 - quality; // the library counts the other way for MP3
        sf_command(file.get(), SFC_SET_COMPRESSION_LEVEL, &compression, sizeof compression);
    } else {
        sf_command(file.get(), SFC_SET_VBR_ENCODING_QUALITY, &quality, sizeof quality);
    }
    sf_command(file.get(), SFC_SET_CLIPPING, nullptr, SF_TRUE);
    constexpr std::int64_t block = 1 << 14;
    std::vector<float> interleaved;
    std::vector<short> whole;
    for (std::int64_t from = 0; from < audio.frames; from += block) {
        const std::int64_t frames = std::min(block, audio.frames - from);
        interleaved.clear(), whole.clear();
        for (std::int64_t frame = from; frame < from + frames; ++frame)
            for (int channel = 0; channel < audio.channels; ++channel) {
                const auto index = static_cast<std::size_t>(channel * audio.held + frame);
                if (audio.wide.empty() && (encoding == Encoding::flac || encoding == Encoding::wav))
                    whole.push_back(audio.narrow[index]);
                else
                    interleaved.push_back(audio.at(channel, frame));
            }
        const sf_count_t written = whole.empty() ? sf_writef_float(file.get(), interleaved.data(), frames)
                                                 : sf_writef_short(file.get(), whole.data(), frames);
        if (written != frames) return {{}, sf_strerror(file.get())};
    }
    file.reset();
    return {std::move(memory.bytes), {}};
}

} // namespace kiai::workshop
