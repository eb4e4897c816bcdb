// The examples in other languages make the same decisions and sound the same.
#ifdef KIAI_LANGUAGES
#include "support/places.h"
#include "support/project_folder.h"
#include "support/recorded.h"
#include "support/run_tool.h"

#include <catch2/catch.hpp>

#include <vector>

using namespace support;

namespace {

const std::string languages = source_folder() + "/examples/languages/";

Ran from_examples(const std::string& command) {
    Ran ran = run(command, std::filesystem::path(source_folder()) / "examples");
    INFO(ran.err);
    REQUIRE(ran.status == 0);
    CHECK(ran.err.empty());
    return ran;
}

std::string line_with(const std::string& text, const std::string& part) {
    const std::size_t at = text.find(part);
    REQUIRE(at != std::string::npos);
    const std::size_t begin = text.rfind('\n', at) + 1;
    return text.substr(begin, text.find('\n', at) - begin);
}

} // namespace

TEST_CASE("From C, Python and Lua the same strike is heard", "[examples]") {
    const std::string c = from_examples(build_folder() + "/bin/from-c").out;
    const std::string python =
        from_examples("KIAI_LIBRARY='" + build_folder() + "/src/runtime/libkiai.so' PYTHONPATH='" + languages +
                      "' python3 -B '" + languages + "from-python.py'")
            .out;
    const std::string lua =
        from_examples("LUA_CPATH='" + build_folder() + "/bin/?.so' lua5.4 '" + languages + "from-lua.lua'").out;
    const std::string strike = line_with(c, "glass");
    CHECK(strike.find("played") != std::string::npos);
    CHECK(line_with(python, "glass") == strike);
    CHECK(line_with(lua, "glass") == strike);
    const auto last = [](const std::string& text) { return text.substr(text.rfind('\n', text.size() - 2) + 1); };
    CHECK(last(c) == last(python));
    CHECK(last(lua).starts_with("peak "));
    const double level = std::stod(last(lua).substr(5));
    CHECK(level > -30);
    CHECK(level < 0);
}

TEST_CASE("From Python a press is heard on a device", "[device]") {
    double loudest = 0;
    for (int attempt = 0; attempt < 4 && loudest == 0; ++attempt) { // a busy machine may open its device too late
        const Folder server;
        from_examples("KIAI_LIBRARY='" + build_folder() + "/src/runtime/libkiai.so' PYTHONPATH='" + languages + "' '" +
                      source_folder() + "/tests/output/with-sound-server' '" + server.path().string() +
                      "' python3 -B -c '\n"
                      "import kiai\n"
                      "with kiai.open(\"marble-run\") as bench: bench.click(118, 82)'");
        const std::vector<float> samples = recorded(server.path());
        loudest = peak(side(samples, 0));
    }
    CHECK(loudest > 0.05);
}

TEST_CASE("What C gets wrong is an error in Python and in Lua", "[examples]") {
    const Ran python =
        from_examples("KIAI_LIBRARY='" + build_folder() + "/src/runtime/libkiai.so' PYTHONPATH='" + languages +
                      "' python3 -B -c '\n"
                      "import kiai\n"
                      "bench = kiai.open_silent(\"marble-run\", seed=1)\n"
                      "try: bench.stop(9, \"oak\")\n"
                      "except kiai.Error as error: print(error)\n"
                      "try: bench.dial(\"fil\")\n"
                      "except kiai.Error as error: print(error)\n"
                      "try: bench.key_down(\"Space\", 3)\n"
                      "except TypeError as error: print(error)\n"
                      "roll = bench.play(\"roll\", \"bench\")\n"
                      "bench.enter_scope(\"bench\"); bench.render(100)\n"
                      "print(roll.state, roll.reason, kiai.version)\n"
                      "bench.close()'");
    CHECK(python.out.find("an argument is null or invalid\nthe project has no entry of that name\nkey_down takes 1 "
                          "values\n") != std::string::npos);
    CHECK(python.out.find(" 0.1.0\n") != std::string::npos);
    const Ran lua = from_examples("LUA_CPATH='" + build_folder() +
                                  "/bin/?.so' lua5.4 -e '\n"
                                  "local kiai = require \"kiai_lua\"\n"
                                  "local bench = kiai.open_silent(\"marble-run\")\n"
                                  "print(pcall(bench.notice, bench, \"x\", {3}))\n"
                                  "bench:close() print(pcall(bench.play, bench, \"oak\")) bench:close()'");
    CHECK(lua.out.find("a value of a notice has no name") != std::string::npos);
    CHECK(lua.out.find("this engine is closed") != std::string::npos);
}
#endif
