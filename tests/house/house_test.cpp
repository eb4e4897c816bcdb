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
    const std::map<std::string, std::size_t> most{
        {"toml++/toml.h", 1}, {"cairo.h", 1}, {"portaudio.h", 1}, {"nlohmann/json.hpp", 3}, {"sndfile.h", 5}};
    for (const auto& [header, files] : most) {
        std::size_t users = 0;
        for (const fs::path& file : sources(root / "src"))
            for (const std::string& include : includes(file, "other")) users += include == header ? 1 : 0;
        INFO(header);
        CHECK(users >= 1);
        CHECK(users <= files);
    }
}
