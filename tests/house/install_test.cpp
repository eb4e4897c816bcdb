// Installs Kiai, and follows the page on installing line by line in an empty folder.
#include "support/places.h"
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <catch2/catch.hpp>

#include <cstring>
#include <filesystem>
#include <sstream>
#include <string>
#include <utility>
#include <vector>

using namespace support;
namespace fs = std::filesystem;

namespace {

/// Returns the n-th block of a kind on a page of the guide.
std::string block(const std::string& kind, int n = 0, const std::string& page = "install") {
    const std::string text = text_of(fs::path(source_folder()) / "docs" / "guide" / (page + ".md"));
    const std::string fence = "```" + kind + "\n";
    std::size_t begin = 0;
    for (int i = 0; i <= n; ++i) {
        begin = text.find(fence, begin);
        REQUIRE(begin != std::string::npos);
        begin += fence.size();
    }
    return text.substr(begin, text.find("```", begin) - begin);
}

/// Returns the page's commands with another folder in place of ~/kiai.
std::string commands(int n, const std::string& folder) {
    std::string text = block("sh", n);
    for (std::size_t at; (at = text.find("~/kiai")) != std::string::npos;) text.replace(at, 6, folder);
    return text;
}

const char* const core_program = R"(
#include <kiai/builder.h>
#include <kiai/engine.h>

int main() {
    kiai::Engine engine{kiai::Project()};
    float out[128] = {};
    engine.render(out);
    return engine.now() == 64 ? 0 : 1;
}
)";

/// Returns the packages that the page names for a library: the rows of its table from the first to the library's own.
std::string packages_for(const std::string& library) {
    std::istringstream page(text_of(fs::path(source_folder()) / "docs" / "guide" / "install.md"));
    std::string names;
    bool in_table = false;
    for (std::string line; std::getline(page, line);) {
        in_table = in_table || line.starts_with("| to build anything");
        if (!in_table) continue;
        const std::string packages = line.substr(line.rfind(" | "));
        for (std::size_t at = 0; (at = packages.find('`', at)) != std::string::npos;) {
            const std::size_t end = packages.find('`', at + 1);
            names += packages.substr(at + 1, end - at - 1) + ' ';
            at = end + 1;
        }
        if (line.starts_with("| `" + library + "`")) return names;
    }
    FAIL("the page has no row for " << library);
    return names;
}

double peak_of_recording(const Folder& folder, const std::string& name) {
    const std::string bytes = folder.read(name);
    std::vector<float> samples(bytes.size() / 8 * 2);
    std::memcpy(samples.data(), bytes.data(), samples.size() * sizeof samples[0]);
    return samples.empty() ? 0 : peak(side(samples, 0));
}

struct Installed {
    Installed() {
        const Ran done = run("for part in runtime development tool; do cmake --install '" + build_folder() +
                                 "' --prefix first --component $part || exit 1; done",
                             folder.path());
        INFO(done.out << done.err);
        REQUIRE(done.status == 0);
        fs::rename(folder.path() / "first", prefix()); // nothing in it may depend on its place
        REQUIRE(kiai_tool("new bench", folder.path()).status == 0);
        folder.write("main.cpp", block("cpp"));
        folder.write("core.cpp", core_program);
    }
    fs::path prefix() const { return folder.path() / "moved"; }
    Ran configure(const std::string& cmake_lists) const {
        folder.write("CMakeLists.txt", cmake_lists);
        return run("cmake -B build -G Ninja -DCMAKE_PREFIX_PATH='" + prefix().string() + "'", folder.path());
    }
    /// Runs a command with a sound server and returns the peak of its output. On a busy machine a device may open too
    /// late, so the test tries more than once.
    double heard(const std::string& command) const {
        for (int attempt = 1;; ++attempt) {
            const Folder server;
            const Ran ran = run("'" + source_folder() + "/tests/output/with-sound-server' '" + server.path().string() +
                                    "' " + command,
                                folder.path());
            INFO(ran.out << ran.err);
            REQUIRE(ran.status == 0);
            const double most = peak_of_recording(server, "recorded.raw");
            if (most > 0 || attempt == 4) return most;
        }
    }
    Folder folder;
};

} // namespace

TEST_CASE("Who follows the page on installing hears a strike, wherever Kiai was moved to", "[device]") {
    const Installed installed;
    installed.folder.write("CMakeLists.txt", block("cmake"));
    const Ran built = run("set -e\n" + commands(1, installed.prefix().string()), installed.folder.path());
    INFO(built.out << built.err);
    REQUIRE(built.status == 0);
    CHECK(installed.heard("build/my-app") > 0.1);
    fs::rename(installed.folder.path() / "bench", installed.folder.path() / "build" / "bench"); // next to the program
    CHECK(installed.heard("build/my-app") > 0.1);
    fs::rename(installed.folder.path() / "build" / "bench", installed.folder.path() / "bench");
    const Ran linked = run("set -e\n" + commands(3, installed.prefix().string()), installed.folder.path());
    INFO(linked.out << linked.err);
    REQUIRE(linked.status == 0);
    CHECK(installed.heard("./my-app") > 0.1);
}

TEST_CASE("A folder that holds Kiai's source is linked as the page says", "[house]") {
    const Folder folder;
    fs::create_directory_symlink(source_folder(), folder.path() / "kiai");
    folder.write("CMakeLists.txt", block("cmake", 1));
    folder.write("main.cpp", block("cpp"));
    const Ran configured = // house_test builds such a project
        run("cmake -B build -G Ninja -DCMAKE_EXPORT_COMPILE_COMMANDS=ON", folder.path());
    INFO(configured.out << configured.err);
    CHECK(configured.status == 0);
    // Kiai is optimised although the project has no build type, and the project's own program is unaffected.
    std::istringstream commands(folder.read("build/compile_commands.json"));
    int optimised = 0;
    for (std::string line; std::getline(commands, line);) {
        if (line.find("\"command\"") == std::string::npos) continue;
        const bool own = line.find("main.cpp") != std::string::npos;
        INFO(line);
        CHECK((line.find(" -O2") != std::string::npos) != own);
        optimised += !own;
    }
    CHECK(optimised > 20);
}

TEST_CASE("An installed Kiai is a storey for itself, and names neither its sources nor its build", "[house]") {
    const Installed installed;
    const Ran named = run("grep -rlaF -e '" + source_folder() + "/' -e '" + build_folder() + "/' moved || true",
                          installed.folder.path());
    CHECK(named.out == "");
    const std::string head = "cmake_minimum_required(VERSION 3.25)\nproject(game LANGUAGES CXX)\n";
    SECTION("the core alone") {
        const Ran configured = installed.configure(head + "find_package(kiai REQUIRED)\nadd_executable(bare core.cpp)\n"
                                                          "target_link_libraries(bare PRIVATE kiai::core)\n");
        INFO(configured.out << configured.err);
        REQUIRE(configured.status == 0);
        const Ran ran = run("cmake --build build && build/bare && export PKG_CONFIG_PATH=moved/lib/pkgconfig && g++ "
                            "-std=c++20 core.cpp $(pkg-config --cflags --libs kiai-core) -o core && ./core",
                            installed.folder.path());
        INFO(ran.out << ran.err);
        CHECK(ran.status == 0);
    }
    SECTION("what is missing is said") {
        const Ran configured = installed.configure(head + "find_package(kiai REQUIRED COMPONENTS workshop)\n");
        CHECK(configured.status != 0);
        CHECK(configured.err.find("workshop") != std::string::npos);
        const Ran newer = installed.configure(head + "find_package(kiai 0.2 REQUIRED)\n");
        CHECK(newer.status != 0);
        CHECK(newer.err.find("0.1.0") != std::string::npos);
    }
}

TEST_CASE("kiai_project checks the sounds with each build, and makes what the app needs of them", "[house]") {
    const Installed installed;
    const Folder& folder = installed.folder;
    for (const std::string generator : {"Ninja", "Unix Makefiles"}) {
        INFO(generator);
        fs::remove_all(folder.path() / "build");
        folder.write("main.cpp", "#include \"sounds.h\"\n#include <kiai/kiai.h>\n#include <cstdio>\n"
                                 "int main() {\n"
                                 "    const auto loaded = kiai::load_project(BENCH);\n"
                                 "    kiai::Engine engine(loaded.project, {.seed = 1});\n"
                                 "    engine.play(game::sound::strike);\n"
                                 "    float out[4800], peak = 0;\n"
                                 "    engine.render(out);\n"
                                 "    for (const float sample : out) peak = sample > peak ? sample : peak;\n"
                                 "    std::printf(\"%.3f\\n\", peak);\n"
                                 "}\n");
        folder.write("CMakeLists.txt",
                     "cmake_minimum_required(VERSION 3.25)\nproject(game LANGUAGES CXX)\nfind_package(kiai REQUIRED)\n"
                     "add_executable(game main.cpp)\ntarget_link_libraries(game PRIVATE kiai::kiai)\n"
                     "target_compile_definitions(game PRIVATE BENCH=\"build/bench.kiai\")\n"
                     "kiai_project(game bench NAMES sounds.h NAMESPACE game PACK COPY)\n");
        const auto build = [&] { return run("cmake --build build", folder.path()); };
        const Ran configured =
            run("cmake -B build -G '" + generator + "' -DCMAKE_PREFIX_PATH='" + installed.prefix().string() + "'",
                folder.path());
        INFO(configured.out << configured.err);
        REQUIRE(configured.status == 0);
        const Ran built = build();
        INFO(built.out << built.err);
        REQUIRE(built.status == 0);
        CHECK(fs::exists(folder.path() / "build/bench/kiai.toml"));
        const Ran loud = run("build/game", folder.path());
        CHECK(std::stod(loud.out) > 0.1);

        // A gain changes the pack and the copy; no name has changed, so nothing is compiled.
        const std::string toml = folder.read("bench/kiai.toml");
        folder.write("bench/kiai.toml", toml + "\n[bus.main]\ngain = -20\n");
        const Ran again = build();
        INFO(again.out << again.err);
        CHECK(again.status == 0);
        CHECK(again.out.find("main.cpp") == std::string::npos);
        CHECK(std::stod(run("build/game", folder.path()).out) == Approx(std::stod(loud.out) / 10).epsilon(0.02));
        CHECK(folder.read("build/bench/kiai.toml").find("gain = -20") != std::string::npos);
        const Ran idle = build();
        CHECK(idle.out.find("sounds") == std::string::npos);

        // An error fails the build and names its place; a removed name does not compile.
        folder.write("bench/kiai.toml", toml + "\n[bus.main]\ngian = -20\n");
        const Ran wrong = build();
        CHECK(wrong.status != 0);
        CHECK((wrong.out + wrong.err).find("kiai.toml:") != std::string::npos);
        CHECK((wrong.out + wrong.err).find("[unknown-key]") != std::string::npos);
        std::string renamed = toml;
        for (std::size_t at = 0; (at = renamed.find("strike", at)) != std::string::npos; at += 6)
            if (renamed.compare(at - 7, 7, "[sound.") == 0 || renamed.compare(at - 8, 8, "play = \"") == 0)
                renamed.replace(at, 6, "thrust");
        folder.write("bench/kiai.toml", renamed);
        const Ran gone = build();
        CHECK(gone.status != 0);
        INFO(gone.out << gone.err);
        CHECK((gone.out + gone.err).find("strike") != std::string::npos);
        CHECK((gone.out + gone.err).find("main.cpp:") != std::string::npos);
        folder.write("bench/kiai.toml", toml);
    }
}

TEST_CASE("A program may take the shared library instead", "[house]") {
    const Installed installed;
    installed.folder.write("c.c", "#include <kiai_c.h>\n#include <string.h>\n"
                                  "int main(void) { return strcmp(kiai_version(), \"0.1.0\"); }\n");
    const Ran configured = installed.configure(
        "cmake_minimum_required(VERSION 3.25)\nproject(game LANGUAGES C CXX)\nset(BUILD_SHARED_LIBS ON)\n"
        "find_package(kiai REQUIRED)\nadd_executable(shared core.cpp)\nadd_executable(c c.c)\n"
        "target_link_libraries(shared PRIVATE kiai::kiai)\ntarget_link_libraries(c PRIVATE kiai::shared)\n");
    INFO(configured.out << configured.err);
    REQUIRE(configured.status == 0);
    const Ran ran = run("cmake --build build && build/shared && build/c && ldd build/c && ldd build/shared",
                        installed.folder.path());
    INFO(ran.out << ran.err);
    CHECK(ran.status == 0);
    CHECK(ran.out.find("libkiai.so.0 => " + installed.prefix().string()) != std::string::npos);
    CHECK(ran.out.find("not found") == std::string::npos);
}

TEST_CASE("In a bare Debian, the pages lead to a sound: from source, and from the packages", "[slow]") {
    const Folder folder;
    const Ran made = run("cpack --config '" + build_folder() +
                             "/CPackConfig.cmake' -B made && cp made/*.deb . && rm -r made && "
                             "rm libkiai-workshop-dev_*.deb && cp '" +
                             source_folder() +
                             "/tests/output/with-sound-server' . && "
                             "here=$PWD && mkdir -p game/kiai && cd '" +
                             source_folder() +
                             "' && git ls-files -z | "
                             "tar -c --null -T - | tar -x -C \"$here/game/kiai\"",
                         folder.path());
    INFO(made.out << made.err);
    REQUIRE(made.status == 0);
    const std::string install =
        "export DEBIAN_FRONTEND=noninteractive\napt-get install -qq -y --no-install-recommends ";
    folder.write("game/main.cpp", block("cpp"));
    folder.write("game/CMakeLists.txt", block("cmake", 1));
    REQUIRE(kiai_tool("new bench", folder.path() / "game").status == 0);
    folder.write("1-source.sh",
                 install + packages_for("kiai::kiai") + ">/dev/null\ncd game\n" + block("sh", 2) + "cd ..\n");
    folder.write("main.cpp", block("cpp", 0, "first-sound"));
    folder.write("CMakeLists.txt", block("cmake", 0, "first-sound"));
    fs::copy_file(demo() / "clips" / "glass-1.wav", folder.path() / "drop.wav");
    std::istringstream console(block("console", 0, "first-sound"));
    std::string typed;
    for (std::string line; std::getline(console, line);)
        if (line.starts_with("$ kiai ")) typed += line.substr(2) + '\n';
    folder.write("2-packages.sh", install + "./*.deb >/dev/null\n" + typed + block("sh", 0, "first-sound"));
    const Ran ran = run("'" + source_folder() + "/tests/house/in-bare-debian' '" + folder.path().string() + "'");
    INFO(ran.out << ran.err);
    if (ran.status == 75) {
        WARN("not tested: Debian's packages cannot be downloaded on this machine\n" << ran.err);
        return;
    }
    REQUIRE(ran.status == 0);
    const std::string printed = ran.out + ran.err; // mmdebstrap prints everything on standard error
    CHECK(printed.find("added   drop = ") != std::string::npos);
    CHECK(printed.find("Checking the sounds of bench") != std::string::npos);
    CHECK(peak_of_recording(folder, "1-source.raw") > 0.1);
    CHECK(peak_of_recording(folder, "2-packages.raw") > 0.1);
}

TEST_CASE("Every program of the pages on an own game compiles and runs", "[house][slow]") {
    const Installed installed;
    const Folder& folder = installed.folder;
    for (const auto& [page, programs] : {std::pair("first-sound", 1), std::pair("existing-game", 4)})
        for (int n = 0; n < programs; ++n) {
            const std::string program = block("cpp", n, page);
            INFO(page << " " << n);
            folder.write("main.cpp", program);
            REQUIRE(kiai_tool("names bench --out sounds.h --force", folder.path()).status == 0);
            if (program.find("names::clip::drop") != std::string::npos) {
                fs::copy_file(demo() / "clips" / "glass-1.wav", folder.path() / "drop.wav");
                REQUIRE(kiai_tool("add bench drop.wav", folder.path()).status == 0);
                REQUIRE(kiai_tool("names bench --out sounds.h --force", folder.path()).status == 0);
            }
            const Ran built = run("set -e\nexport PKG_CONFIG_PATH=moved/lib/pkgconfig\ng++ -std=c++20 -Wall -Wextra "
                                  "main.cpp $(pkg-config --cflags --libs kiai) -o my-app",
                                  folder.path());
            INFO(built.out << built.err);
            REQUIRE(built.status == 0);
            CHECK(run("timeout 60 ./my-app", folder.path()).status == 0); // without a device: silent, and said
        }
}

TEST_CASE("The packages hold what the page says, and ask for what they need", "[house]") {
    const Folder folder;
    const Ran made = run("cpack --config '" + build_folder() + "/CPackConfig.cmake' -B made", folder.path());
    INFO(made.out << made.err);
    REQUIRE(made.status == 0);
    const auto of = [&](const std::string& package, const std::string& what) {
        const Ran told = run("dpkg-deb " + what + " made/" + package + "_0.1.0_*.deb", folder.path());
        INFO(told.err);
        REQUIRE(told.status == 0);
        return told.out;
    };
    CHECK(of("libkiai-dev", "-c").find("./usr/lib/libkiai.a") != std::string::npos);
    CHECK(of("libkiai-dev", "-c").find("workshop") == std::string::npos);
    CHECK(of("libkiai-workshop-dev", "-c").find("./usr/include/kiai/workshop/check.h") != std::string::npos);
    for (const char* file : {"bin/kiai", "share/man/man1/kiai-rehearse.1", "share/bash-completion/completions/kiai",
                             "share/zsh/vendor-completions/_kiai", "share/fish/vendor_completions.d/kiai.fish"})
        CHECK(of("kiai", "-c").find("./usr/" + std::string(file)) != std::string::npos);
    for (const char* needed : {"libhwy-dev", "libsndfile1-dev", "libtomlplusplus-dev", "portaudio19-dev"})
        CHECK(of("libkiai-dev", "-f").find(needed) != std::string::npos);
    CHECK(of("kiai", "-f").find("libsndfile1 (") != std::string::npos);
    CHECK(of("libkiai0", "-c").find("./usr/lib/libkiai.so.0 ->") != std::string::npos);
    CHECK(of("libkiai0", "-f").find("libsndfile1 (") != std::string::npos);
    CHECK(of("libkiai-dev", "-c").find("./usr/lib/libkiai.so ->") != std::string::npos);
    CHECK(of("libkiai-dev", "-f").find("libkiai0 (= 0.1.0)") != std::string::npos);
}
