#include "claim.h"

#include <fmt/format.h>

#include <algorithm>
#include <filesystem>
#include <fstream>
#include <string_view>

namespace kiai::tool {

namespace fs = std::filesystem;

bool& force() noexcept {
    static bool forced = false;
    return forced;
}

void add_force(Command& command) {
    command.flag("-f,--force", force(), "Replace an existing file that Kiai did not write");
}

namespace {

/// Returns true if the beginning of a file contains a mark.
bool holds(const std::string& path, const char* mark) {
    std::ifstream file(path, std::ios::binary);
    std::string head(1 << 16, '\0');
    file.read(head.data(), static_cast<std::streamsize>(head.size()));
    head.resize(static_cast<std::size_t>(std::max<std::streamsize>(0, file.gcount())));
    return head.empty() || head.find(mark) != std::string::npos;
}

} // namespace

Status claim_output(const std::string& path, std::initializer_list<const char*> extensions, const char* mark) {
    if (path.empty()) return done;
    if (path == "-") {
        say_error("\"-\" is not a file; name a file, or /dev/stdout");
        return wrong_use;
    }
    std::string extension = fs::path(path).extension().string();
    for (char& c : extension) c = c >= 'A' && c <= 'Z' ? static_cast<char>(c + ('a' - 'A')) : c;
    std::error_code error;
    const bool special = fs::exists(path, error) && !fs::is_regular_file(path, error); // /dev/stdout, a pipe
    if (!special && std::find(extensions.begin(), extensions.end(), extension) == extensions.end()) {
        std::string known;
        for (const char* one : extensions) known += (known.empty() ? "" : ", ") + std::string(one);
        const std::string problem =
            extension.empty() ? "has no extension" : fmt::format("cannot be written as \"{}\"", extension);
        say_error(fmt::format("{}: {}; name a file that ends in {}", path, problem, known));
        return wrong_use;
    }
    if (special || force() || !fs::exists(path, error) || holds(path, mark)) return done;
    say_error(fmt::format("{} exists, and this command did not make it; choose another name, or --force", path));
    return not_written;
}

} // namespace kiai::tool
