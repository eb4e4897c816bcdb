// Loads a pack: the result is a finding, or a project that plays. The checksums are corrected first so that the readers
// after them are reached.
#include "runtime/project/pack_format.h"
#include "target.h"

#include <cstring>

namespace {

std::uint64_t checksum(const std::string& bytes, std::size_t from, std::size_t count) {
    return kiai::runtime::pack_checksum(std::as_bytes(std::span(bytes.data() + from, count)));
}

void put(std::string& bytes, std::size_t at, std::uint64_t number) {
    for (int i = 0; i < 8; ++i) bytes[at + static_cast<std::size_t>(i)] = static_cast<char>(number >> (8 * i));
}

/// Makes the header agree with the bytes. The index starts at the header's offset, clamped to the file.
void make_fit(std::string& bytes) {
    constexpr std::size_t length = 12, index = 20;
    std::uint64_t from = 0;
    std::memcpy(&from, bytes.data() + index, sizeof from);
    from = kiai::runtime::pack_head_bytes + from % (bytes.size() - kiai::runtime::pack_head_bytes + 1);
    const auto begin = static_cast<std::size_t>(from);
    std::memcpy(bytes.data(), "KIAIPACK\1\0\0", 12);
    put(bytes, length, bytes.size());
    put(bytes, index, from);
    put(bytes, index + 8, bytes.size() - from);
    put(bytes, index + 16, checksum(bytes, begin, bytes.size() - begin));
    put(bytes, index + 24, checksum(bytes, 0, index + 24));
}

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    std::string bytes = fuzz::text_of(data, size);
    for (const bool fit : {false, true}) {
        if (fit && bytes.size() < kiai::runtime::pack_head_bytes) break;
        if (fit) make_fit(bytes);
        const fuzz::File file(bytes);
        const kiai::LoadResult loaded = kiai::load_project(file.path());
        if (loaded.ok()) fuzz::play(loaded.project);
        kiai::list_pack(file.path());
    }
    return 0;
}
