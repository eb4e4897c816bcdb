#include "support/places.h"

namespace support {

std::string source_folder() {
    return KIAI_SOURCE;
}

std::string build_folder() {
    return KIAI_BINARY;
}

std::string compiler() {
    return KIAI_COMPILER;
}

std::string compiler_flags() {
    return KIAI_FLAGS;
}

std::string tested_tool() {
    return KIAI_TESTED_TOOL;
}

} // namespace support
