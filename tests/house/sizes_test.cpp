// The sizes of what a game ships: the table on the page is true, and Kiai without TOML plays packs.
#include "support/places.h"
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

#include <cmath>
#include <filesystem>
#include <regex>
#include <set>
#include <string>
#include <utility>

using namespace support;
namespace fs = std::filesystem;

namespace {

/// Returns the kilobytes of a program or library without debug information.
double stripped(const fs::path& file, const Folder& folder) {
    REQUIRE(run("strip -o small '" + file.string() + "'", folder.path()).status == 0);
    return static_cast<double>(fs::file_size(folder.path() / "small")) / 1000;
}

/// Returns the number in a row of the page's table.
double told(const std::string& row) {
    const std::string page = text_of(fs::path(source_folder()) / "docs" / "guide" / "what-you-ship.md");
    std::smatch found;
    const std::regex line("\\| " + row + "[^|]*\\| ([0-9,]+) kB");
    REQUIRE(std::regex_search(page, found, line));
    return std::stod(std::regex_replace(found[1].str(), std::regex(","), ""));
}

void check(const std::string& row, double kilobytes) {
    INFO(row << ": " << std::lround(kilobytes) << " kB");
    CHECK(kilobytes == Approx(told(row)).epsilon(0.05));
}

} // namespace

TEST_CASE("The sizes of what a game ships are those of the page", "[house][slow]") {
    const Folder folder;
    check("two lines, static", stripped(build_folder() + "/bin/two-lines", folder));
    check("two lines without sound", stripped(build_folder() + "/bin/two-lines-silent", folder));
    check("`libkiai.so`", stripped(build_folder() + "/src/runtime/libkiai.so", folder));

    // Builds Kiai without TOML in a project of its own.
    fs::create_directory_symlink(source_folder(), folder.path() / "kiai");
    folder.write("main.cpp", "#include <kiai/kiai.h>\n"
                             "int main(int, char** arguments) {\n"
                             "    auto bench = kiai::open(arguments[1]);\n"
                             "    bench.click({118, 82});\n"
                             "    return bench.project().sounds().has(\"hopper\") ? 0 : 1;\n"
                             "}\n");
    folder.write("core.cpp", "#include <kiai/builder.h>\n#include <kiai/engine.h>\n"
                             "int main() {\n"
                             "    kiai::Engine engine(kiai::ProjectBuilder().build().project);\n"
                             "    float out[128];\n"
                             "    engine.render(out);\n"
                             "}\n");
    folder.write("CMakeLists.txt", "cmake_minimum_required(VERSION 3.25)\nproject(game LANGUAGES CXX)\n"
                                   "set(CMAKE_BUILD_TYPE Release)\nset(KIAI_TOML OFF)\n"
                                   "set(KIAI_WERROR ON)\nadd_subdirectory(kiai)\n"
                                   "add_executable(game main.cpp)\ntarget_link_libraries(game PRIVATE kiai::kiai)\n"
                                   "add_executable(core core.cpp)\ntarget_link_libraries(core PRIVATE kiai::core)\n"
                                   "kiai_project(game kiai/examples/marble-run PACK)\n");
    // The compiler cache, if there is one, knows the same build in another folder.
    const Ran built = run("export CCACHE_BASEDIR='" + folder.path().string() +
                              "'; cmake -B build -G Ninja -DCMAKE_CXX_COMPILER=" + compiler() + " -DKIAI_EXECUTABLE='" +
                              tested_tool() + "' && cmake --build build",
                          folder.path());
    INFO(built.out << built.err);
    REQUIRE(built.status == 0);
    check("two lines, static, packs alone", stripped(folder.path() / "build/game", folder));
    check("`kiai::core` alone", stripped(folder.path() / "build/core", folder));
    CHECK(run("build/game marble-run.kiai", folder.path()).status == 0); // it is next to the program
    const Ran refused = run("build/game '" + demo().string() + "'", folder.path());
    CHECK(refused.status == 1);
    CHECK(refused.err.find("this build of Kiai cannot read folders") != std::string::npos);
    CHECK(run("ldd build/game", folder.path()).out.find("toml") == std::string::npos);
}

TEST_CASE("The bill of materials has every library that is linked, with its licence", "[house]") {
    const Ran made =
        run("'" + source_folder() + "/scripts/list-parts' '" + build_folder() + "/src/runtime/libkiai.so'");
    INFO(made.err);
    REQUIRE(made.status == 0);
    // Versions depend on the machine.
    const auto parts = [](const std::string& text) {
        std::set<std::pair<std::string, std::string>> all;
        const auto document = nlohmann::json::parse(text);
        for (const auto& part : document["packages"])
            all.emplace(part["name"].get<std::string>(), part["licenseDeclared"].get<std::string>());
        return all;
    };
    CHECK(parts(made.out).size() > 10);
    CHECK(parts(made.out) == parts(text_of(fs::path(source_folder()) / "docs" / "parts.spdx.json")));
}
