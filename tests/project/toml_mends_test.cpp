// The most common TOML mistakes: each is found at its line, and its fix works.
#include "support/project_folder.h"

#include <catch2/catch.hpp>

using namespace support;

namespace {

struct Break {
    const char* what;
    const char* broken; ///< the text below `format = 1`
    int line;           ///< within it, from 1
    const char* fixes;
    const char* mended; ///< what following the fix gives
};

const Break breaks[] = {
    {"a text without its second quote", "name = \"bench\n[clip]\n", 1, "close the text", "name = \"bench\"\n[clip]\n"},
    {"a text without quotes", "name = bench\n", 1, "write the text in quotes", "name = \"bench\"\n"},
    {"typographic quotes",
     "name = \xe2\x80\x9c"
     "bench\xe2\x80\x9d\n",
     1, "straight quotes", "name = \"bench\"\n"},
    {"a colon for an equals sign", "name: \"bench\"\n", 1, "write = between", "name = \"bench\"\n"},
    {"a backslash in a path", "[clip]\noak = \"clips\\oak.wav\"\n", 2, "paths with /",
     "[clip]\noak = \"clips/oak.wav\"\n"},
    {"a list without its end", "[sound.s]\ntakes = [\"oak\"\ngain = 1\n", 3, "close the list",
     "[sound.s]\ntakes = [\"oak\"]\ngain = 1\n"},
    {"a list without a comma", "[sound.s]\ntakes = [\"oak\" \"ash\"]\n", 2, "put a comma",
     "[sound.s]\ntakes = [\"oak\", \"ash\"]\n"},
    {"an inline table over two lines", "[sound.s]\nvary = { pitch = 1,\n  gain = 2 }\n", 2, "on one line",
     "[sound.s]\nvary = { pitch = 1, gain = 2 }\n"},
    {"a comma at an inline table's end", "[sound.s]\nvary = { pitch = 1, }\n", 2, "last comma",
     "[sound.s]\nvary = { pitch = 1 }\n"},
    {"a heading without its end", "[sound.s\ntakes = [\"oak\"]\n", 1, "close the heading with ]",
     "[sound.s]\ntakes = [\"oak\"]\n"},
    {"a list heading without its end", "[[binding]\n", 1, "close the heading with ]]", "[[binding]]\n"},
    {"the same heading twice", "[sound.s]\ntakes = []\n[sound.s]\ngain = 1\n", 3, "the same name is used above",
     "[sound.s]\ntakes = []\ngain = 1\n"},
    {"the same key twice", "[clip]\noak = \"a.wav\"\noak = \"b.wav\"\n", 3, "the same name is used above",
     "[clip]\noak = \"a.wav\"\noak-2 = \"b.wav\"\n"},
    {"a key in two ways", "[sound.s]\ngain = 1\n[sound.a]\ntakes = []\n[sound.s]\n", 5, "the same name is used above",
     "[sound.s]\ngain = 1\n[sound.a]\ntakes = []\n"},
    {"a list over many lines", "[sound.s]\ntakes = [\n  \"oak\",\n  \"ash\"\n[bus.b]\n", 5, "close the list",
     "[sound.s]\ntakes = [\n  \"oak\",\n  \"ash\"\n]\n[bus.b]\n"},
    {"True with a capital", "[sound.s]\nloop = True\n", 2, "true or false", "[sound.s]\nloop = true\n"},
    {"a comma for a decimal point", "[sound.s]\ngain = -1,5\n", 2, "with a point", "[sound.s]\ngain = -1.5\n"},
    {"a unit behind a number", "[sound.s]\ngain = -3 dB\n", 2, "its unit is a text", "[sound.s]\ngain = -3\n"},
    {"a comment of another language", "// my sounds\n", 1, "comments with #", "# my sounds\n"},
    {"a key without a value", "name =\n", 1, "a value after the =", "name = \"\"\n"},
};

} // namespace

TEST_CASE("Broken TOML is found at its line, with a fix that works", "[toml]") {
    for (const Break& one : breaks) {
        const ProjectFolder folder(one.broken);
        const auto findings = folder.load_with_findings().findings;
        INFO(one.what << "\n" << one.broken);
        REQUIRE(findings.size() == 1);
        INFO(findings[0].message << "; " << findings[0].fix);
        CHECK(findings[0].code == kiai::FindingCode::toml_syntax);
        CHECK(findings[0].line == one.line + 1);
        CHECK(findings[0].column >= 1);
        CHECK(findings[0].fix.find(one.fixes) != std::string::npos);
        CHECK(!findings[0].message.empty());

        folder.toml(one.mended);
        for (const kiai::Finding& left : folder.load_with_findings().findings)
            CHECK(left.code != kiai::FindingCode::toml_syntax);
    }
}
