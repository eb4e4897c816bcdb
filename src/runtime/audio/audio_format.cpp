#include "runtime/audio/audio_format.h"
#include "core/model/fill.h"

#include <sndfile.h>

namespace kiai::runtime {
namespace {

int bits_of(int format) {
    switch (format & SF_FORMAT_SUBMASK) {
    case SF_FORMAT_PCM_S8:
    case SF_FORMAT_PCM_U8:
    case SF_FORMAT_ULAW:
    case SF_FORMAT_ALAW:
        return 8;
    case SF_FORMAT_PCM_16:
    case SF_FORMAT_ALAC_16:
        return 16;
    case SF_FORMAT_ALAC_20:
        return 20;
    case SF_FORMAT_PCM_24:
    case SF_FORMAT_ALAC_24:
    case SF_FORMAT_DWVW_24:
        return 24;
    case SF_FORMAT_PCM_32:
    case SF_FORMAT_FLOAT:
    case SF_FORMAT_ALAC_32:
        return 32;
    case SF_FORMAT_DOUBLE:
        return 64;
    case SF_FORMAT_IMA_ADPCM:
    case SF_FORMAT_MS_ADPCM:
        return 4;
    default:
        return 0;
    }
}

/// Returns the library's name of a format, without the part in brackets.
std::string name_of(int format, int question) {
    SF_FORMAT_INFO info{};
    info.format = format;
    if (sf_command(nullptr, question, &info, sizeof info) != 0 || info.name == nullptr) return "unknown";
    const std::string name = info.name;
    return name.substr(0, name.find(" ("));
}

std::string coding_of(int format) {
    const int coding = format & SF_FORMAT_SUBMASK, bits = bits_of(format);
    switch (coding) {
    case SF_FORMAT_PCM_S8:
    case SF_FORMAT_PCM_U8:
    case SF_FORMAT_PCM_16:
    case SF_FORMAT_PCM_24:
    case SF_FORMAT_PCM_32:
        return model::fill("{}-bit", bits);
    case SF_FORMAT_FLOAT:
    case SF_FORMAT_DOUBLE:
        return model::fill("{}-bit float", bits);
    default:
        return name_of(coding, SFC_GET_FORMAT_INFO);
    }
}

} // namespace

bool is_narrow(int format) noexcept {
    switch (format & SF_FORMAT_SUBMASK) {
    case SF_FORMAT_VORBIS: // decoders of lossy files give more than full scale, which 16 bits would cut or wrap around
    case SF_FORMAT_OPUS:
    case SF_FORMAT_MPEG_LAYER_I:
    case SF_FORMAT_MPEG_LAYER_II:
    case SF_FORMAT_MPEG_LAYER_III:
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

bool holds_samples(int format) noexcept {
    if ((format & SF_FORMAT_TYPEMASK) == SF_FORMAT_FLAC) return false; // whose codings are called as those of WAV
    switch (format & SF_FORMAT_SUBMASK) {
    case SF_FORMAT_PCM_S8:
    case SF_FORMAT_PCM_U8:
    case SF_FORMAT_PCM_16:
    case SF_FORMAT_PCM_24:
    case SF_FORMAT_PCM_32:
    case SF_FORMAT_FLOAT:
    case SF_FORMAT_DOUBLE:
        return true;
    default:
        return false;
    }
}

void describe_format(int format, Facts& facts) {
    facts.format = name_of(format & SF_FORMAT_TYPEMASK, SFC_GET_FORMAT_INFO);
    facts.coding = coding_of(format);
    facts.bits = bits_of(format);
}

} // namespace kiai::runtime
