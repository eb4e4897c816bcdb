// The house keeps its order: what the source tree itself must hold to.
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <catch2/catch.hpp>

#include <map>
#include <regex>
#include <set>
#include <sstream>

using namespace support;
namespace fs = std::filesystem;

namespace {

const fs::path root = KIAI_SOURCE;

std::vector<fs::path> sources(const fs::path& folder) {
    std::vector<fs::path> files;
    for (const auto& entry : fs::recursive_directory_iterator(folder))
        if (const auto extension = entry.path().extension();
            extension == ".h" || extension == ".cpp" || extension == ".inc")
            files.push_back(entry.path());
    return files;
}

std::vector<std::string> includes(const fs::path& file, const std::string& form) {
    static const std::map<std::string, std::regex> forms{{"own", std::regex("^#include \"([^\"]+)\"")},
                                                         {"other", std::regex("^#include <([^>]+)>")}};
    std::vector<std::string> found;
    std::istringstream text(text_of(file));
    for (std::string line; std::getline(text, line);)
        if (std::smatch match; std::regex_search(line, match, forms.at(form))) found.push_back(match[1]);
    return found;
}

/// What each room of src/ may include from.
const std::map<std::string, std::set<std::string>> rooms{
    {"dsp", {"dsp"}},
    {"model", {"model", "dsp"}},
    {"engine", {"engine", "model", "dsp"}},
    {"triggers", {"triggers", "engine", "model", "dsp"}},
    {"files", {"files", "model", "dsp"}},
    {"audit", {"audit", "files", "model"}},
    {"proof", {"proof", "files", "model"}},
    {"view", {"view", "proof", "files", "model"}},
    {"speaker", {"speaker"}},
    {"live", {"files", "model"}},
};

} // namespace

TEST_CASE("Each room includes only from rooms above it", "[house]") {
    std::set<std::string> seen;
    for (const fs::path& file : sources(root / "src")) {
        const std::string room = fs::relative(file, root / "src").begin()->string();
        seen.insert(room);
        INFO(file);
        REQUIRE(rooms.contains(room));
        for (const std::string& include : includes(file, "own")) {
            INFO(include);
            CHECK(rooms.at(room).contains(fs::path(include).begin()->string()));
        }
    }
    CHECK(seen.size() == rooms.size());
}

TEST_CASE("The core includes the standard library, Highway and the public headers, nothing else", "[house]") {
    const std::set<std::string> allowed_c{"immintrin.h"};
    for (const char* room : {"dsp", "model", "engine", "triggers"})
        for (const fs::path& file : sources(root / "src" / room))
            for (const std::string& include : includes(file, "other")) {
                INFO(file << " includes <" << include << ">");
                const bool standard = include.find('.') == std::string::npos;
                CHECK((standard || include.starts_with("kiai/") || include.starts_with("hwy/") ||
                       allowed_c.contains(include)));
            }
}

TEST_CASE("The core's archive asks for no file, device, drawing or terminal library", "[house]") {
    const Ran symbols = run("nm -C --undefined-only " KIAI_BINARY "/libkiai_core.a");
    REQUIRE(symbols.status == 0);
    REQUIRE(symbols.out.size() > 1000);
    for (const std::string prefix :
         {" sf_", " Pa_", " cairo_", " pango_", "toml::", "nlohmann", "fmt::", "CLI::", " fopen", "std::basic_ifstream",
          "std::basic_ofstream", " isatty", "std::filesystem"}) {
        INFO(prefix);
        CHECK(symbols.out.find(prefix) == std::string::npos);
    }
}

TEST_CASE("The library runs no code before main", "[house]") {
    const Ran symbols = run("nm " KIAI_BINARY "/libkiai_core.a " KIAI_BINARY "/libkiai.a");
    REQUIRE(symbols.out.size() > 1000);
    CHECK(symbols.out.find("_GLOBAL__sub_I") == std::string::npos); // how g++ and clang call a dynamic initialiser
}

TEST_CASE("A project may be loaded by a static constructor", "[house]") {
    const Ran ran = run(KIAI_BINARY "/bin/kiai_early_load");
    INFO(ran.err);
    CHECK(ran.status == 0);
}

TEST_CASE("The core refuses to compile with fast-math", "[house]") {
    const Folder folder;
    folder.write("fast.cpp", "#include \"dsp/math.h\"\n");
    const std::string compile = KIAI_COMPILER " -std=c++20 -fsyntax-only -I" KIAI_SOURCE "/src fast.cpp";
    CHECK(run(compile, folder.path()).status == 0);
    const Ran fast = run(compile + " -ffast-math", folder.path());
    CHECK(fast.status != 0);
    CHECK(fast.err.find("build it without them") != std::string::npos);
}

TEST_CASE("Kiai leaves the variables of a parent CMake project alone", "[house]") {
    const Folder folder;
    folder.write("CMakeLists.txt", "cmake_minimum_required(VERSION 3.25)\nproject(game LANGUAGES CXX)\n"
                                   "foreach(name glib sndfile alsa hwy)\n  set(${name}_LIBRARIES mine)\nendforeach()\n"
                                   "get_cmake_property(before CACHE_VARIABLES)\n"
                                   "add_subdirectory(" KIAI_SOURCE " kiai)\n"
                                   "get_cmake_property(after CACHE_VARIABLES)\n"
                                   "foreach(name glib sndfile alsa hwy)\n"
                                   "  if(NOT ${name}_LIBRARIES STREQUAL mine)\n    message(FATAL_ERROR ${name})\n"
                                   "  endif()\nendforeach()\n"
                                   "list(REMOVE_ITEM after ${before})\n"
                                   "foreach(name ${after})\n  message(\"new ${name}\")\nendforeach()\n");
    const Ran configured = run("cmake -S . -B build -G Ninja -DCMAKE_CXX_COMPILER=" KIAI_COMPILER, folder.path());
    INFO(configured.err);
    REQUIRE(configured.status == 0);
    std::istringstream lines(configured.err);
    int ours = 0;
    for (std::string line; std::getline(lines, line);) {
        if (!line.starts_with("new ")) continue;
        // Ours begin with our name; the others are made by CMake and by the packages' own files.
        static const std::regex others(
            "new (prefix_result|PKG_CONFIG.*|pkgcfg_lib_kiai_.*|CMAKE_.*|FIND_PACKAGE_.*|__pkg_config_.*|"
            "(fmt|tomlplusplus|nlohmann_json)_DIR)");
        const bool own = line.starts_with("new kiai_") || line.starts_with("new KIAI_");
        ours += own ? 1 : 0;
        INFO(line);
        CHECK((own || std::regex_match(line, others)));
    }
    CHECK(ours > 10);
}

TEST_CASE("A program of the core alone links", "[house]") {
    const Folder folder;
    folder.write("alone.cpp", "#include <kiai/engine.h>\nint main() { kiai::Engine engine{kiai::Project()}; float "
                              "out[64] = {}; engine.render(out); return out[0] == 0 ? 0 : 1; }\n");
    // With the flags of a sanitizer where this build has one.
    const Ran built = run(KIAI_COMPILER " -std=c++20 " KIAI_FLAGS " -I" KIAI_SOURCE "/include alone.cpp " KIAI_BINARY
                                        "/libkiai_core.a -lhwy -o alone && ./alone",
                          folder.path());
    INFO(built.err);
    CHECK(built.status == 0);
}

TEST_CASE("Each public header compiles alone", "[house]") {
    const Folder folder;
    int headers = 0;
    for (const auto& entry : fs::directory_iterator(root / "include" / "kiai")) {
        if (entry.path().extension() != ".h") continue;
        ++headers;
        folder.write("one.cpp", "#include <kiai/" + entry.path().filename().string() + ">\n#include <kiai/" +
                                    entry.path().filename().string() + ">\n");
        const Ran built =
            run(KIAI_COMPILER " -std=c++20 -Wall -Wextra -Wconversion -Wshadow -Werror -fsyntax-only -I" KIAI_SOURCE
                              "/include -I" KIAI_BINARY "/include one.cpp",
                folder.path());
        INFO(entry.path() << "\n" << built.err);
        CHECK(built.status == 0);
        CHECK(text_of(entry.path()).find("#define") == std::string::npos);
    }
    CHECK(headers >= 12);
    const std::string all = text_of(root / "include" / "kiai" / "kiai.h");
    for (const auto& entry : fs::directory_iterator(root / "include" / "kiai"))
        if (entry.path().extension() == ".h" && entry.path().filename() != "kiai.h")
            CHECK(all.find(entry.path().filename().string()) != std::string::npos);
}

TEST_CASE("A heavy library stays in one or two files", "[house]") {
    const std::map<std::string, std::map<std::string, std::size_t>> most{
        {"src", {{"toml++/toml.h", 1}, {"cairo.h", 1}, {"portaudio.h", 1}, {"nlohmann/json.hpp", 3}, {"sndfile.h", 5}}},
        {"tools", {{"CLI/CLI.hpp", 1}}}};
    for (const auto& [folder, headers] : most)
        for (const auto& [header, files] : headers) {
            std::size_t users = 0;
            for (const fs::path& file : sources(root / folder))
                for (const std::string& include : includes(file, "other")) users += include == header ? 1 : 0;
            INFO(header);
            CHECK(users >= 1);
            CHECK(users <= files);
        }
}
