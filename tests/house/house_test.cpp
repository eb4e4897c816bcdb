// The structure of the source tree.
#include "support/places.h"
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <catch2/catch.hpp>

#include <fstream>
#include <map>
#include <regex>
#include <set>
#include <sstream>

using namespace support;
namespace fs = std::filesystem;

namespace {

const fs::path root = source_folder();

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
        if (std::smatch match; line.starts_with("#include ") && std::regex_search(line, match, forms.at(form)))
            found.push_back(match[1]);
    return found;
}

/// The storeys of src/ and their folders, in the order in which they build upon each other.
const std::vector<std::pair<std::string, std::vector<std::string>>> storeys{
    {"core", {"dsp", "model", "decisions", "reader", "mixer", "rules", "engine"}},
    {"runtime", {"system", "audio", "project", "output", "session", "c", "web"}},
    {"workshop", {"disk", "facts", "edit", "check", "ship", "convert", "rehearse", "explain", "draw", "page"}},
};

/// Returns how high a folder of src/ is; -1 if it is not in the list.
int height(const fs::path& folder) {
    int height = 0;
    for (const auto& [storey, rooms] : storeys)
        for (const std::string& room : rooms) {
            if (folder == fs::path(storey) / room) return height;
            ++height;
        }
    return -1;
}

fs::path folder_of(const std::string& include) {
    return fs::path(include).parent_path();
}

/// The public headers that need nothing but the core.
const std::set<std::string> core_headers{"builder.h", "clip_source.h", "decision.h", "engine.h", "facts.h",
                                         "finding.h", "insert.h",      "keys.h",     "levels.h", "log.h",
                                         "name.h",    "play.h",        "project.h",  "report.h", "state.h",
                                         "trace.h",   "units.h",       "version.h"};

/// Returns the storey of a public header: 0 the core, 1 the runtime, 2 the workshop.
std::size_t storey_of(const std::string& header) {
    if (header.starts_with("kiai/workshop/")) return 2;
    return core_headers.contains(fs::path(header).filename().string()) ? 0 : 1;
}

std::string symbols_of(const std::string& library) {
    const Ran symbols = run("nm -C --undefined-only " + build_folder() + "/src/" + library);
    REQUIRE(symbols.status == 0);
    REQUIRE(symbols.out.size() > 1000);
    return symbols.out;
}

} // namespace

TEST_CASE("Each folder includes only from folders below it", "[house]") {
    std::set<int> seen;
    for (const fs::path& file : sources(root / "src")) {
        const int own = height(fs::relative(file.parent_path(), root / "src"));
        seen.insert(own);
        INFO(file);
        REQUIRE(own >= 0);
        for (const std::string& include : includes(file, "own")) {
            INFO(include);
            const int other = height(folder_of(include));
            CHECK(other >= 0);
            CHECK(other <= own);
        }
    }
    CHECK(seen.size() == 24);
}

TEST_CASE("No storey includes public headers of the one above it", "[house]") {
    std::size_t public_includes = 0;
    const auto check = [&](const fs::path& file, std::size_t own) {
        for (const std::string& include : includes(file, "other")) {
            if (!include.starts_with("kiai/")) continue;
            INFO(file << " includes <" << include << ">");
            CHECK(storey_of(include) <= own);
            ++public_includes;
        }
    };
    for (std::size_t storey = 0; storey < storeys.size(); ++storey)
        for (const fs::path& file : sources(root / "src" / storeys[storey].first)) check(file, storey);
    for (const fs::path& file : sources(root / "include")) {
        check(file, storey_of(fs::relative(file, root / "include").generic_string()));
        CHECK(includes(file, "own").empty());
    }
    CHECK(public_includes > 100);
    // Nothing below the engine knows the engine.
    for (const std::string& room : storeys[0].second)
        for (const fs::path& file : sources(root / "src/core" / room))
            for (const std::string& include : includes(file, "other"))
                if (room != "engine") CHECK(include != "kiai/engine.h");
}

TEST_CASE("The core includes the standard library, Highway and the public headers, nothing else", "[house]") {
    const std::set<std::string> allowed_c{"immintrin.h"}, not_in_the_core{"filesystem", "fstream", "regex", "iostream"};
    for (const fs::path& file : sources(root / "src" / "core"))
        for (const std::string& include : includes(file, "other")) {
            INFO(file << " includes <" << include << ">");
            const bool standard = include.find('.') == std::string::npos && !not_in_the_core.contains(include);
            CHECK((standard || include.starts_with("kiai/") || include.starts_with("hwy/") ||
                   allowed_c.contains(include)));
        }
}

TEST_CASE("System calls are in the folders that are for them", "[house]") {
    const std::regex system("(unistd|fcntl|dlfcn|glob|poll|termios|signal|pthread|windows|spawn|sys/.*)\\.h");
    int calls = 0;
    for (const char* const storey : {"src", "include", "tools"})
        for (const fs::path& file : sources(root / storey))
            for (const std::string& include : includes(file, "other")) {
                if (!std::regex_match(include, system)) continue;
                ++calls;
                const fs::path folder = fs::relative(file.parent_path(), root);
                INFO(file << " includes <" << include << ">");
                CHECK(
                    (folder == "src/runtime/system" || folder == "src/workshop/disk" || folder == "tools/kiai/system"));
            }
    CHECK(calls > 0);
}

TEST_CASE("No library asks for what belongs to the one above it", "[house]") {
    const std::vector<std::string> workshop{" cairo_",  " pango_", " ebur128", " XXH",          " g_",
                                            "nlohmann", "fmt::",   "CLI::",    "kiai::workshop"};
    const std::vector<std::string> runtime{" sf_",
                                           " Pa_",
                                           "toml::",
                                           " fopen",
                                           "std::basic_ifstream",
                                           "std::basic_ofstream",
                                           " isatty",
                                           "std::filesystem",
                                           "kiai::runtime"};
    const std::string core = symbols_of("core/libkiai-core.a"), kiai = symbols_of("runtime/libkiai.a");
    for (const std::string& symbol : workshop) {
        INFO(symbol);
        CHECK(core.find(symbol) == std::string::npos);
        CHECK(kiai.find(symbol) == std::string::npos);
    }
    for (const std::string& symbol : runtime) {
        INFO(symbol);
        CHECK(core.find(symbol) == std::string::npos);
    }
    CHECK(kiai.find(" sf_") != std::string::npos);
}

#ifdef KIAI_EXAMPLES
TEST_CASE("The two-line example takes no library that only the workshop needs", "[house]") {
    const Ran ran = run("ldd " + build_folder() + "/bin/two-lines");
    REQUIRE(ran.status == 0);
    CHECK(ran.out.find("libsndfile") != std::string::npos);
    for (const std::string library : {"libcairo", "libpango", "libebur128", "libxxhash", "libglib", "libfmt"}) {
        INFO(library);
        CHECK(ran.out.find(library) == std::string::npos);
    }
}
#endif

TEST_CASE("A build of the lower storeys looks for no package of the upper ones", "[house]") {
    const auto packages = [](const std::string& options) {
        const Folder folder;
        const Ran configured = run("cmake -S " + source_folder() + " -B build -G Ninja -DKIAI_WORKSHOP=OFF " + options +
                                       " -DCMAKE_CXX_COMPILER=" + compiler(),
                                   folder.path());
        INFO(configured.err);
        REQUIRE(configured.status == 0);
        std::set<std::string> found;
        std::istringstream cache(text_of(folder.path() / "build" / "CMakeCache.txt"));
        static const std::regex package("kiai_([a-z0-9]+)_FOUND:INTERNAL=1|([A-Za-z0-9_]+)_DIR:PATH=.*");
        for (std::string line; std::getline(cache, line);)
            if (std::smatch match; std::regex_match(line, match, package))
                found.insert(match[1].matched ? match[1] : match[2]);
        return found;
    };
    CHECK(packages("-DKIAI_RUNTIME=OFF") == std::set<std::string>{"hwy"});
    std::set<std::string> runtime = packages("");
    for (const char* quiet : {"alsa", "jack"}) runtime.erase(quiet); // where they are there
    // Of xxHash the runtime uses only the header.
    CHECK(runtime == std::set<std::string>{"ffmpeg", "hwy", "portaudio", "sndfile", "tomlplusplus"});
    const auto packs_alone = packages("-DKIAI_TOML=OFF -DKIAI_AUDIO_FILES=OFF -DKIAI_DEVICE=OFF");
    CHECK(packs_alone == std::set<std::string>{"hwy"});
}

TEST_CASE("The library runs no code before main", "[house]") {
    const Ran symbols = run("nm " + build_folder() + "/src/core/libkiai-core.a " + build_folder() +
                            "/src/runtime/libkiai.a " + build_folder() + "/src/workshop/libkiai-workshop.a");
    REQUIRE(symbols.out.size() > 1000);
    // How g++ and clang call a dynamic initialiser. The web server's header includes <iostream>, which has one.
    std::istringstream lines(symbols.out);
    for (std::string line; std::getline(lines, line);)
        if (line.find("_GLOBAL__sub_I") != std::string::npos) CHECK(line.ends_with("_GLOBAL__sub_I_server.cpp"));
}

TEST_CASE("A project may be loaded by a static constructor", "[house]") {
    const Ran ran = run(build_folder() + "/bin/kiai_early_load");
    INFO(ran.err);
    CHECK(ran.status == 0);
}

TEST_CASE("The core refuses to compile with fast-math", "[house]") {
    const Folder folder;
    folder.write("fast.cpp", "#include \"core/dsp/math.h\"\n");
    const std::string compile = compiler() + " -std=c++20 -fsyntax-only -I" + source_folder() + "/src fast.cpp";
    CHECK(run(compile, folder.path()).status == 0);
    const Ran fast = run(compile + " -ffast-math", folder.path());
    CHECK(fast.status != 0);
    CHECK(fast.err.find("build it without them") != std::string::npos);
}

TEST_CASE("Kiai leaves the variables of a parent CMake project alone", "[house]") {
    const Folder folder;
    folder.write("CMakeLists.txt",
                 "cmake_minimum_required(VERSION 3.25)\nproject(game LANGUAGES CXX)\n"
                 "foreach(name portaudio sndfile alsa hwy)\n  set(${name}_LIBRARIES mine)\nendforeach()\n"
                 "get_cmake_property(before CACHE_VARIABLES)\n"
                 "add_subdirectory(" +
                     source_folder() +
                     " kiai)\n"
                     "get_cmake_property(after CACHE_VARIABLES)\n"
                     "foreach(name portaudio sndfile alsa hwy)\n"
                     "  if(NOT ${name}_LIBRARIES STREQUAL mine)\n    message(FATAL_ERROR ${name})\n"
                     "  endif()\nendforeach()\n"
                     "list(REMOVE_ITEM after ${before})\n"
                     "foreach(name ${after})\n  message(\"new ${name}\")\nendforeach()\n");
    const Ran configured = run("cmake -S . -B build -G Ninja -DCMAKE_CXX_COMPILER=" + compiler(), folder.path());
    INFO(configured.err);
    REQUIRE(configured.status == 0);
    std::istringstream lines(configured.err);
    int ours = 0;
    for (std::string line; std::getline(lines, line);) {
        if (!line.starts_with("new ")) continue;
        // Our targets start with our name; CMake and the packages' own files make the others.
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

TEST_CASE("A program of the core alone makes a project and plays it", "[house]") {
    const Folder folder;
    folder.write("alone.cpp", "#include <kiai/builder.h>\n#include <kiai/engine.h>\n"
                              "int main() { kiai::Engine engine(kiai::ProjectBuilder().clip(\"tock\", {48000, 1, "
                              "std::vector<float>(100, 0.25f)}).build().project);\n"
                              "engine.play(\"tock\"); float out[1024] = {}; engine.render(out);\n"
                              "return out[2 * engine.latency()] == 0.25f ? 0 : 1; }\n");
    // With the flags of a sanitizer if this build has one.
    const Ran built =
        run(compiler() + " -std=c++20 " + compiler_flags() + " -I" + source_folder() + "/include alone.cpp " +
                build_folder() + "/src/core/libkiai-core.a -lhwy -o alone && ./alone",
            folder.path());
    INFO(built.err);
    CHECK(built.status == 0);
}

TEST_CASE("The core compiles as one file, without exceptions and run-time types, with either standard library",
          "[house][slow]") {
    const fs::path build = fs::relative(build_folder(), root); // so that the compiler cache knows it in any folder
    std::set<std::string> all;
    for (const fs::path& file : sources(root / "src" / "core"))
        if (file.extension() == ".cpp") all.insert("#include \"" + fs::relative(file, root / "src").string() + "\"\n");
    std::ofstream core(root / build / "all-of-core.cpp");
    for (const std::string& include : all) core << include;
    core.close();
    const std::string flags =
        " -std=c++20 -O0 -fno-exceptions -fno-rtti -Wall -Wextra -Wshadow -Werror -Isrc -Iinclude "
        "-I" +
        (build / "include").string() + " -c " + (build / "all-of-core.cpp").string() + " -o " +
        (build / "all-of-core.o").string();
    for (const std::string compiler : {"ccache g++", "ccache clang++ -stdlib=libc++"}) {
        const Ran built = run(compiler + flags, root);
        INFO(compiler << "\n" << built.err);
        CHECK(built.status == 0);
    }
}

TEST_CASE("Each public header compiles alone", "[house][slow]") {
    const Ran built = run("cmake --build '" + build_folder() + "' --target kiai_headers_alone");
    INFO(built.out << built.err);
    CHECK(built.status == 0);
    int headers = 0;
    for (const fs::path& file : sources(root / "include")) {
        const std::string name = fs::relative(file, root / "include").generic_string();
        if (name.starts_with("kiai/with/")) continue;
        ++headers;
        INFO(name);
        if (name != "kiai_c.h") CHECK(text_of(file).find("#define") == std::string::npos); // C has no other constants
        CHECK(fs::exists(fs::path(build_folder()) / "tests" / "alone" / (name + ".cpp")));
    }
    CHECK(headers >= 30);
}

TEST_CASE("kiai.h is all of the runtime, workshop.h all of the workshop", "[house]") {
    const fs::path folder = root / "include" / "kiai";
    const std::string runtime = text_of(folder / "kiai.h"), workshop = text_of(folder / "workshop" / "workshop.h");
    for (const fs::path& file : sources(root / "include")) {
        const std::string name = fs::relative(file, root / "include").generic_string();
        if (name == "kiai/kiai.h" || name == "kiai/workshop/workshop.h" || name == "kiai_c.h") continue;
        if (name.starts_with("kiai/silent/") || name.starts_with("kiai/with/")) continue; // on request
        INFO(name);
        CHECK((storey_of(name) == 2 ? workshop : runtime).find("<" + name + ">") != std::string::npos);
    }
}

TEST_CASE("Every public enumerator keeps its number", "[house]") {
    // Logs, packs and other languages contain these numbers, so a line of the list never changes.
    const std::regex comment(R"(//[^\n]*|/\*[\s\S]*?\*/)"), list(R"(\benum (?:class )?(\w+)[^{;]*\{([^}]*)\})"),
        numbered(R"((\w+)\s*=\s*(\d+))");
    std::set<std::string> found;
    for (const fs::path& header : sources(root / "include")) {
        const std::string file = fs::relative(header, root / "include").generic_string();
        if (file.find('/') != file.rfind('/') || file.starts_with("kiai/workshop"))
            continue; // silent/, with/, workshop/
        const std::string text = std::regex_replace(text_of(header), comment, "");
        for (std::sregex_iterator at(text.begin(), text.end(), list), end; at != end; ++at) {
            const std::string enumerators = (*at)[2];
            for (std::sregex_iterator e(enumerators.begin(), enumerators.end(), numbered); e != end; ++e)
                found.insert(file + ' ' + (*at)[1].str() + ' ' + (*e)[1].str() + " = " + (*e)[2].str());
        }
    }
    std::set<std::string> kept;
    std::istringstream lines(text_of(root / "tests" / "house" / "enumerators.txt"));
    for (std::string line; std::getline(lines, line);) kept.insert(line);
    CHECK(kept.size() > 200);
    for (const std::string& line : kept) {
        INFO("changed or removed: " << line);
        CHECK(found.count(line) == 1);
    }
    for (const std::string& line : found) {
        INFO("new, so add it to tests/house/enumerators.txt: " << line);
        CHECK(kept.count(line) == 1);
    }
}

TEST_CASE("No class is spread over several files", "[house]") {
    const std::regex member(R"(^(?!\s|#|/|using|return)(?:[\w:<>,&*\s\[\]]*?\s[&*]?)?([A-Z]\w+)::~?\w+\(.*)");
    std::map<std::string, std::set<std::string>> files;
    for (const fs::path& file : sources(root / "src")) {
        if (file.extension() != ".cpp") continue;
        std::ifstream text(file);
        for (std::string line; std::getline(text, line);)
            if (std::smatch found; std::regex_match(line, found, member))
                files[file.parent_path().filename().string() + "/" + found[1].str()].insert(file.filename().string());
    }
    CHECK(files.size() > 60);
    for (const auto& [name, own] : files) {
        INFO(name);
        CHECK(own.size() == 1);
    }
}

TEST_CASE("A heavy library stays in one or two files", "[house]") {
    const std::map<std::string, std::map<std::string, std::size_t>> most{
        {"src",
         {{"toml++/toml.h", 1},
          {"cairo.h", 1},
          {"portaudio.h", 1},
          {"nlohmann/json.hpp", 4},
          {"httplib.h", 1},
          {"sndfile.h", 8}}},
        {"tools", {{"CLI/CLI.hpp", 1}, {"nlohmann/json.hpp", 1}}}};
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

TEST_CASE("The shared library exports the public names alone, and every function of the C face", "[house]") {
    const std::string library = build_folder() + "/src/runtime/libkiai.so";
    const Ran symbols = run("nm -DC --defined-only " + library + " | cut -c20-");
    REQUIRE(symbols.status == 0);
    std::set<std::string> c;
    std::istringstream lines(symbols.out);
    for (std::string name; std::getline(lines, name);) {
        name = name.substr(0, name.find('@'));
        if (name.starts_with("kiai_")) {
            c.insert(name);
            continue;
        }
        INFO(name);
        CHECK((name == "KIAI_0" || name.starts_with("kiai::v0::") || name.starts_with("vtable for kiai::v0::") ||
               name.starts_with("typeinfo for kiai::v0::") || name.starts_with("typeinfo name for kiai::v0::")));
    }
    // A removed function breaks programs that were linked before: see docs/guide/versions.md.
    std::set<std::string> listed;
    std::istringstream list(text_of(root / "src/runtime/c/functions.txt"));
    for (std::string name; std::getline(list, name);) listed.insert(name);
    CHECK(c == listed);
    std::set<std::string> declared;
    const std::string header = text_of(root / "include/kiai_c.h");
    const std::regex function("\\b(kiai_[a-z_]+)\\(");
    for (auto at = std::sregex_iterator(header.begin(), header.end(), function); at != std::sregex_iterator(); ++at)
        declared.insert((*at)[1]);
    CHECK(declared == listed);
    const Ran named = run("readelf -d " + library + " | grep SONAME");
    CHECK(named.out.find("[libkiai.so.0]") != std::string::npos);
}

TEST_CASE("The C header is C11", "[house]") {
    const Folder folder;
    folder.write("use.c", "#include <kiai_c.h>\nint main(void) { return kiai_c_version() == KIAI_C_VERSION; }\n");
    const Ran built = run("cc -std=c11 -Wall -Wextra -Wpedantic -Wstrict-prototypes -Werror -fsyntax-only -I" +
                              source_folder() + "/include use.c",
                          folder.path());
    INFO(built.err);
    CHECK(built.status == 0);
}

TEST_CASE("Without sound every public function is there, and does nothing", "[house]") {
    const Folder folder;
    folder.write("all.cpp", "#include <kiai/kiai.h>\n");
    const Ran built = run(compiler() +
                              " -std=c++20 -Wall -Wextra -Wconversion -Wshadow -Werror -DKIAI_SILENT "
                              "-fkeep-inline-functions -c -I" +
                              source_folder() + "/include -I" + build_folder() + "/include all.cpp -o all.o",
                          folder.path());
    INFO(built.err);
    REQUIRE(built.status == 0);
    const auto functions = [&](const std::string& nm) {
        std::set<std::string> names;
        std::istringstream lines(run("nm -C --defined-only " + nm + " | cut -c20-", folder.path()).out);
        for (std::string line; std::getline(lines, line);)
            if (line.starts_with("kiai::v0::")) names.insert(line.substr(0, line.find('@')));
        return names;
    };
    const auto silent = functions("all.o"), all = functions("-D " + build_folder() + "/src/runtime/libkiai.so");
    CHECK(silent.size() > 150);
    // Members that only the library calls, and copies that a compiler makes where it needs them.
    const std::regex own(
        "EngineShared|::State::|::Watcher::|::live\\(|Play::(end|move|tell)\\(|std::__|::(\\w+)::~?\\2\\(");
    for (const std::string& function : all) {
        INFO(function);
        CHECK((silent.contains(function) || std::regex_search(function, own)));
    }
}
