#include "runtime/system/program.h"

#include <system_error>

namespace kiai::runtime {

std::filesystem::path program_path() {
    std::error_code error;
    auto program = std::filesystem::read_symlink("/proc/self/exe", error);
    return error ? std::filesystem::path() : program;
}

} // namespace kiai::runtime
