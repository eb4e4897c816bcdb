#include "runtime/system/beside_program.h"

#include "runtime/system/program.h"

#include <system_error>

namespace kiai::runtime {

std::filesystem::path beside_program(const std::filesystem::path& given) {
    std::error_code error;
    if (given.is_absolute() || std::filesystem::exists(given, error)) return given;
    const auto program = program_path();
    if (program.empty()) return given;
    auto beside = program.parent_path() / given;
    return std::filesystem::exists(beside, error) ? beside : given;
}

} // namespace kiai::runtime
