#include "workshop/facts/content_hash.h"

#include <xxhash.h>

#include <fstream>
#include <memory>
#include <vector>

namespace kiai::workshop {

std::uint64_t content_hash_of(std::string_view text) noexcept {
    return XXH3_64bits(text.data(), text.size());
}

std::optional<std::uint64_t> content_hash(const std::filesystem::path& path) {
    std::ifstream file(path, std::ios::binary);
    const std::unique_ptr<XXH3_state_t, decltype(&XXH3_freeState)> state(XXH3_createState(), &XXH3_freeState);
    if (!file || !state) return std::nullopt;
    XXH3_64bits_reset(state.get());
    std::vector<char> block(1 << 16);
    while (file) {
        file.read(block.data(), static_cast<std::streamsize>(block.size()));
        XXH3_64bits_update(state.get(), block.data(), static_cast<std::size_t>(file.gcount()));
    }
    if (!file.eof()) return std::nullopt;
    return XXH3_64bits_digest(state.get());
}

} // namespace kiai::workshop
