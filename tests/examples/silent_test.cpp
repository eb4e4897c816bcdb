// The examples without sound: the same source, and nothing of Kiai in the program.
#ifdef KIAI_EXAMPLES
#include "support/places.h"
#include "support/run_tool.h"

#include <catch2/catch.hpp>

#include <filesystem>
#include <string>

using namespace support;
namespace fs = std::filesystem;

TEST_CASE("With KIAI_SILENT the examples build and run, and Kiai is not in them", "[house]") {
    for (const std::string example : {"two-lines", "frame-loop", "from-code", "own-effect"}) {
        INFO(example);
        const std::string heard = build_folder() + "/bin/" + example, silent = heard + "-silent";
        const Ran ran = run(silent, fs::path(source_folder()) / "examples");
        CHECK(ran.status == 0);
        CHECK(ran.err.empty());
        const Ran linked = run("ldd " + silent);
        for (const char* library : {"sndfile", "portaudio", "kiai"})
            CHECK(linked.out.find(library) == std::string::npos);
        CHECK(run("nm -C " + silent).out.find("kiai::mixer") == std::string::npos);
        CHECK(fs::file_size(silent) < fs::file_size(heard) / 20);
    }
}
#endif
