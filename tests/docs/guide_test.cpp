// The pages of the guide show the real output of their commands.
#include "support/places.h"
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <catch2/catch.hpp>

using namespace support;
namespace fs = std::filesystem;

TEST_CASE("Every command of the guide prints what the page shows", "[guide][slow]") {
    std::size_t pages = 0;
    for (const auto& entry : fs::directory_iterator(fs::path(source_folder()) / "docs" / "guide")) {
        if (entry.path().extension() != ".md") continue;
        ++pages;
        INFO(entry.path());
        const Ran typed = run("KIAI_BIN=\"$(dirname '" + tested_tool() + "')\" '" + source_folder() +
                              "/scripts/run-guide' '" + entry.path().string() + "'");
        REQUIRE(typed.status == 0);
        const std::string page = text_of(entry.path());
        CHECK(page.find("\n$ kiai ") != std::string::npos);
        CHECK(typed.out == page);
    }
    CHECK(pages >= 1);
}
