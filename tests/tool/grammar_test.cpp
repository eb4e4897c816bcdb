// The grammar of the tool: one way to name a project, one meaning of an option, one shape of help and of errors.
#include "support/places.h"
#include "support/project_folder.h"
#include "support/run_tool.h"
#include "support/text.h"

#include <catch2/catch.hpp>

#include <nlohmann/json.hpp>

#include <algorithm>
#include <filesystem>
#include <sstream>
#include <string>
#include <vector>

using namespace support;
using json = nlohmann::json;
namespace fs = std::filesystem;

namespace {

/// Returns the commands of the overview.
std::vector<std::string> commands() {
    std::vector<std::string> names;
    for (const std::string& line : lines_of(kiai_tool("help").out))
        if (line.starts_with("  ") && line.size() > 24 && line[2] != ' ')
            names.push_back(line.substr(2, line.find(' ', 2) - 2));
    REQUIRE(names.size() == 28);
    return names;
}

std::size_t width_of(const std::string& line) {
    return static_cast<std::size_t>(
        std::count_if(line.begin(), line.end(), [](char c) { return (static_cast<unsigned char>(c) & 0xC0) != 0x80; }));
}

struct Demo : Folder {
    Demo() { fs::copy(demo(), path() / "bench", fs::copy_options::recursive); }
    std::string toml() const { return read("bench/kiai.toml"); }
    Ran tool(const std::string& arguments) const { return kiai_tool(arguments, path()); }
};

} // namespace

TEST_CASE("Each help page has a usage line, options with texts, exit statuses and an example", "[tool]") {
    for (const std::string& command : commands()) {
        const Ran help = kiai_tool(command + " --help");
        INFO(command << '\n' << help.out << help.err);
        CHECK(help.status == 0);
        CHECK(help.err == "");
        CHECK(help.out == kiai_tool("help " + command).out);
        CHECK(help.out == kiai_tool(command + " -h").out);
        const std::vector<std::string> lines = lines_of(help.out);
        CHECK(width_of(lines.at(0)) <= 61); // the brief, and its full stop
        CHECK(help.out.find("\nUsage: kiai " + command) != std::string::npos);
        CHECK(help.out.find("\nExit status:\n  0  done\n  1  ") != std::string::npos);
        CHECK(help.out.find("Example") != std::string::npos);
        CHECK(help.out.find("\n  kiai " + command) != std::string::npos);
        CHECK(help.out.find("TEXT:") == std::string::npos); // the library's own words
        CHECK(help.out.find("REQUIRED") == std::string::npos);
        bool options = false;
        for (std::size_t i = 0; i < lines.size(); ++i) {
            INFO(lines[i]);
            if (lines[i].find("  kiai ") != 0) CHECK(width_of(lines[i]) <= 80);
            options = (options || lines[i] == "Options:") && !lines[i].empty();
            if (!options || lines[i].find("--") == std::string::npos || lines[i].find("--") > 6) continue;
            const std::string text =
                lines[i].size() > 24 && lines[i][23] == ' ' ? lines[i].substr(24) : lines.at(i + 1).substr(24);
            CHECK(std::isupper(static_cast<unsigned char>(text.at(0))));
        }
    }
}

TEST_CASE("The page of the tool holds the help of every command", "[tool]") {
    const std::string page = text_of(fs::path(source_folder()) / "docs" / "tool.md");
    CHECK(page.find(kiai_tool("help").out) != std::string::npos);
    for (const std::string& command : commands()) {
        INFO(command << ": make the page again with scripts/list-commands");
        CHECK(page.find(kiai_tool("help " + command).out) != std::string::npos);
    }
}

TEST_CASE("What is wrong with the arguments is one line that says what to write", "[tool]") {
    const Demo demo;
    for (const auto& [arguments, error] : {
             std::pair("chek", "unknown command \"chek\"; did you mean \"check\"?; `kiai help` lists all commands"),
             std::pair("bogus", "unknown command \"bogus\"; `kiai help` lists all commands"),
             std::pair("help chek",
                       "unknown command \"chek\"; did you mean \"check\"?; `kiai help` lists all commands"),
             std::pair("check --jsn", "unknown option --jsn; did you mean \"--json\"?; see kiai check --help"),
             std::pair("hear --time 3", "unknown option --time; did you mean \"--times\"?; see kiai hear --help"),
             std::pair("hear bench oak --gap", "--gap needs a value: --gap TIME"),
             std::pair("hear bench oak --out --json", "--out needs a value: --out FILE"),
             std::pair("zones bench --press 118", "--press needs a value: --press X Y"),
             std::pair("check bench --strict=yes", "--strict takes no value"),
             std::pair("hear bench oak --gap 2h",
                       "--gap takes a time from 0 s to 60 s, such as \"250 ms\", not \"2h\""),
             std::pair("hear bench oak --times 0", "--times takes a whole number in the range 1 to 10000, not \"0\""),
             std::pair("hear bench oak --seed x", "--seed takes a whole number, not \"x\""),
             std::pair("hear bench oak --bits 12", "--bits takes one of 16, 24, 32, not \"12\"; did you mean \"16\"?"),
             std::pair("list bench --state usd",
                       "--state takes one of used, unused, unbound, variant, pending, left-out, unknown, never-fired, "
                       "not \"usd\"; did you mean \"used\"?"),
             std::pair("list bench clip",
                       "kiai list takes one of clips, sounds, bindings, zones, buses, dials, scopes, "
                       "motions, sequences, notices, not \"clip\"; did you mean \"clips\"?"),
             std::pair("credits bench --json --markdown", "--json and --markdown cannot be used together"),
             std::pair("rename bench oak", "missing NEW; usage: kiai rename [PROJECT] OLD NEW [OPTIONS]"),
             std::pair("rename bench a b c",
                       "unexpected argument \"c\"; usage: kiai rename [PROJECT] OLD NEW [OPTIONS]"),
             std::pair("rename nowhere a b", "no project at \"nowhere\"; make a project: kiai new nowhere"),
             std::pair("check bench/clips",
                       "the folder \"bench/clips\" has no kiai.toml; make a project: kiai new bench/clips/sound"),
             std::pair("-C bench/clips check",
                       "the folder \"bench/clips\" has no kiai.toml; make a project: kiai new bench/clips/sound"),
             std::pair("trace bench/run.jsonl --from 3", "--from is now called --start"),
             std::pair("even bench oak --to -20", "--to is now called --loudness"),
             std::pair("even bench oak --write",
                       "--write is now what `kiai even` does; --dry-run only proposes the gains"),
             std::pair("explain leading-silenc", "unknown finding or decision \"leading-silenc\"; did you mean "
                                                 "\"leading-silence\"?; `kiai check --list` lists all findings"),
         }) {
        const Ran ran = demo.tool(arguments);
        INFO(arguments);
        CHECK(ran.status == 2);
        if (std::string(arguments).find("--json") == std::string::npos) CHECK(ran.out == "");
        CHECK(ran.err == "kiai: " + std::string(error) + '\n');
    }
}

TEST_CASE("A project is named first, by -C, or found above", "[tool]") {
    const Demo demo;
    const std::string wanted = demo.tool("list bench buses").out;
    CHECK(wanted.find("pieces") != std::string::npos);
    CHECK(demo.tool("-C bench list buses").out == wanted);
    CHECK(demo.tool("list buses -C bench").out == wanted);
    CHECK(demo.tool("list --project=bench buses").out == wanted);
    CHECK(demo.tool("list bench/kiai.toml buses").out == wanted);
    CHECK(kiai_tool("list buses", demo.path() / "bench").out == wanted);
    CHECK(kiai_tool("list buses", demo.path() / "bench" / "clips").out == wanted);
}

TEST_CASE("A time has a unit, or is in seconds", "[tool]") {
    const Demo demo;
    const auto at = [&](const std::string& time) {
        return demo.tool("trace bench/run.jsonl --end '" + time + "'").out;
    };
    CHECK(at("2") == at("2 s"));
    CHECK(at("2") == at("2000ms"));
    CHECK(at("12") == at("0.2 min"));
    CHECK(at("2") != at("3"));
}

TEST_CASE("With --dry-run a command prints its changes, and writes nothing", "[tool]") {
    const Demo demo;
    const std::string before = demo.toml();
    for (const auto& [command, change] :
         {std::pair("rename bench peg-1 brass-9", "+ brass-9 = "), std::pair("remove bench oak-9", "- oak-9 = "),
          std::pair("remove bench oak-9 --delete-file", "would delete \"clips/oak-9.wav\""),
          std::pair("even bench oak", "8 gains proposed, nothing written"), std::pair("check bench --fix", "0 errors"),
          std::pair("add bench bench/clips/oak-1.wav", "known")}) {
        const Ran dry = demo.tool(std::string(command) + " --dry-run");
        INFO(command << '\n' << dry.out << dry.err);
        CHECK(dry.out.find(change) != std::string::npos);
        CHECK(demo.toml() == before);
        CHECK(demo.tool(std::string(command) + " -n").out == dry.out);
    }
    CHECK(fs::exists(demo.path() / "bench/clips/oak-9.wav"));
    CHECK(demo.tool("new fresh --dry-run").out == "would write fresh/kiai.toml and three clips\n");
    CHECK_FALSE(fs::exists(demo.path() / "fresh"));
    CHECK(demo.tool("rename bench peg-1 brass-9").status == 0);
    CHECK(demo.toml() != before);
}

TEST_CASE("With --json a failure is a document too", "[tool]") {
    const Demo demo;
    for (const auto& [command, status, part] :
         {std::tuple("check nowhere --json", 2, "no project"), std::tuple("list bench clip --json", 2, "clips"),
          std::tuple("show bench nothing --json", 1, "nothing"), std::tuple("zones bench --scope x --json", 2, "scope"),
          std::tuple("hear bench nothing --out x.wav --json", 1, "nothing"),
          std::tuple("even bench nothing --json", 1, "nothing")}) {
        const Ran ran = demo.tool(command);
        INFO(command << '\n' << ran.out << ran.err);
        CHECK(ran.status == status);
        const json document = json::parse(ran.out);
        CHECK(document["error"] == 1);
        CHECK(document["status"] == status);
        CHECK(document["messages"].size() + document["findings"].size() > 0);
        CHECK(ran.err.find(part) != std::string::npos);
    }
}

TEST_CASE("explain knows every finding and every decision", "[tool]") {
    const Ran finding = kiai_tool("explain dc-offset");
    CHECK(finding.status == 0);
    CHECK(finding.out.find("dc-offset (warning)\nThe mean of the clip's samples") == 0);
    const Ran decision = kiai_tool("explain refused-limit");
    CHECK(decision.out.find("refused-limit (decision)\n") == 0);
    for (const json& code : json::parse(kiai_tool("check --list --json").out)["codes"])
        CHECK(kiai_tool("explain " + code["code"].get<std::string>()).status == 0);
}

TEST_CASE("bash completes commands, options, words and files", "[tool]") {
    const Demo demo;
    demo.write("completion", kiai_tool("help --completion bash").out);
    const auto completed = [&](const std::string& line) { // as bash fills COMP_WORDS, with the cursor at the end
        demo.write("ask", ". ./completion\nCOMP_WORDS=(" + line +
                              ")\nCOMP_CWORD=$((${#COMP_WORDS[@]} - 1))\n"
                              "compopt() { :; }\n_kiai\nprintf '%s\\n' \"${COMPREPLY[@]}\"\n");
        const Ran ran = run("bash ask", demo.path());
        INFO(line << '\n' << ran.err);
        CHECK(ran.err == "");
        return lines_of(ran.out);
    };
    using Words = std::vector<std::string>;
    CHECK(completed("kiai re") == Words{"rename", "remove", "rehearse", "report"});
    CHECK(completed("kiai -C bench sim") == Words{"simulate"});
    CHECK(completed("kiai -C be") == Words{"bench"});
    CHECK(completed("kiai hear --co") == Words{"--compare"});
    CHECK(completed("kiai hear --bits ''") == Words{"16", "24", "32"});
    CHECK(completed("kiai list bu") == Words{"buses"});
    CHECK(completed("kiai rehearse bench bench/run.j") == Words{"bench/run.jsonl"});
    CHECK(completed("kiai help explain") == Words{"explain"});
    CHECK(completed("kiai check --seed") == Words{""});
    for (const std::string& command : commands()) CHECK(completed("kiai " + command + " --hel") == Words{"--help"});
    // A line typed in a terminal, with the tab key.
    demo.write("rc", "kiai() { '" + tested_tool() + "' \"$@\"; }\n. ./completion\n");
    const Ran typed = run(
        "printf 'kiai simul\\t --help | head -n 1\\nexit\\n' | timeout 20 script -qec 'bash --rcfile rc -i' /dev/null",
        demo.path());
    CHECK(typed.out.find("Fire a trigger thousands of times") != std::string::npos);
    for (const char* shell : {"zsh", "fish"}) {
        const std::string script = kiai_tool("help --completion " + std::string(shell)).out;
        for (const std::string& command : commands()) CHECK(script.find(command) != std::string::npos);
        CHECK(script.find("ignore-conditions") != std::string::npos);
    }
}

TEST_CASE("Each command has a manual page that man can print", "[tool]") {
    const Folder folder;
    std::vector<std::string> names = commands();
    names.push_back("");
    for (const std::string& name : names) {
        folder.write("page.1", kiai_tool("help --man " + name).out);
        const Ran page = run("groff -Kutf8 -man -ww -Tutf8 -P-bou page.1", folder.path());
        INFO(name << '\n' << page.err);
        REQUIRE(page.status == 0);
        CHECK(page.err == "");
        CHECK(page.out.find("NAME") != std::string::npos);
        CHECK(page.out.find(name.empty() ? "COMMANDS" : "EXIT STATUS") != std::string::npos);
        CHECK(page.out.find("kiai") != std::string::npos);
    }
}
