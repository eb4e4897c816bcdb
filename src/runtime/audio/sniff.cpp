#include "runtime/audio/sniff.h"

#include "core/model/ascii.h"

#include <algorithm>
#include <string_view>

namespace kiai::runtime {
namespace {

struct Mark {
    std::size_t at;
    std::string_view bytes;
    const char* what;
};
using namespace std::string_view_literals;
constexpr Mark marks[] = {
    {0, "%PDF"sv, "a PDF document"},
    {0, "PK\x03\x04"sv, "a ZIP archive"},
    {0, "Rar!"sv, "a RAR archive"},
    {0, "7z\xbc\xaf"sv, "a 7z archive"},
    {0, "\x1f\x8b"sv, "a gzip archive"},
    {0, "\x89PNG"sv, "a picture (PNG)"},
    {0, "\xff\xd8\xff"sv, "a picture (JPEG)"},
    {0, "GIF8"sv, "a picture (GIF)"},
    {8, "WEBP"sv, "a picture (WebP)"},
    {8, "AVI "sv, "a video (AVI)"},
    {0, "\x1a\x45\xdf\xa3"sv, "a video or sound in a Matroska or WebM container"},
    {0, "\x30\x26\xb2\x75"sv, "Windows Media audio or video (WMA, WMV)"},
    {0, "FLV\x01"sv, "a video (FLV)"},
    {0,
     "\x7f"
     "ELF"sv,
     "a program"},
    {0, "MZ"sv, "a program"},
    {0, "MThd"sv, "notes without sound (MIDI)"},
};

bool is_text(const std::string& bytes) {
    return std::all_of(bytes.begin(), bytes.end(),
                       [](unsigned char c) { return c >= 32 || c == '\n' || c == '\r' || c == '\t'; });
}

} // namespace

std::string what_else(std::istream& file) {
    std::string bytes(1 << 16, '\0');
    file.clear();
    file.seekg(0);
    file.read(bytes.data(), static_cast<std::streamsize>(bytes.size()));
    bytes.resize(static_cast<std::size_t>(std::max<std::streamsize>(0, file.gcount())));
    for (const Mark& mark : marks)
        if (bytes.compare(mark.at < bytes.size() ? mark.at : bytes.size(), mark.bytes.size(), mark.bytes) == 0)
            return mark.what;
    if (bytes.size() >= 12 && bytes.compare(4, 4, "ftyp") == 0) {
        if (bytes.find("alac") != std::string::npos) return "Apple Lossless (ALAC) in an MP4 container";
        const bool sound = bytes.compare(8, 3, "M4A") == 0 || bytes.compare(8, 3, "M4B") == 0 ||
                           bytes.find("vmhd") == std::string::npos;
        return sound ? "AAC audio in an MP4 container (M4A)" : "a video (MP4)";
    }
    if (bytes.size() >= 2 && static_cast<unsigned char>(bytes[0]) == 0xff &&
        (static_cast<unsigned char>(bytes[1]) & 0xf6) == 0xf0)
        return "AAC audio (ADTS)";
    const std::string head = model::lower(bytes.substr(0, 512));
    const std::size_t first = head.find_first_not_of(" \t\r\n\xef\xbb\xbf");
    if (first != std::string::npos && is_text(bytes.substr(0, 512)))
        return head.compare(first, 1, "<") == 0 && head.find("html") != std::string::npos ? "a web page"
                                                                                          : "a text file";
    return {};
}

} // namespace kiai::runtime
