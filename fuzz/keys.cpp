// Makes projects from the table of keys, and random calls against them. The bytes of the input are the choices; zeros
// follow them.
#include "support/any_project.h"
#include "target.h"

#include <cstdlib>
#include <cstring>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    std::size_t at = 0;
    const support::Choose choose = [&](unsigned below) {
        std::uint32_t drawn = 0;
        const std::size_t bytes = std::min<std::size_t>(below <= 256 ? 1 : 4, size - at);
        std::memcpy(&drawn, data + at, bytes);
        at += bytes;
        return drawn % below;
    };
    std::set<std::string> written;
    const kiai::Project one = support::load_any_project(support::any_project(choose, written)).project;
    const kiai::Project other = support::load_any_project(support::any_project(choose, written)).project;
    if (!support::any_history(choose, one, other, 60).finite) std::abort();
    return 0;
}
