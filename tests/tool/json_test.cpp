// The output of --json: a named and versioned document that agrees with its schema.
#include "support/json_schema.h"
#include "support/looped_files.h"
#include "support/places.h"
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <catch2/catch.hpp>

#include <nlohmann/json.hpp>

#include <filesystem>
#include <set>

using namespace support;
using nlohmann::json;

namespace {

const std::filesystem::path docs = source_folder() + "/docs";

json schema_of(const std::string& document) {
    return json::parse(text_of(docs / "json" / (document + ".schema.json")));
}

/// Returns every name that `check --schema` takes, except those of files.
std::set<std::string> documents() {
    std::set<std::string> names;
    for (const auto& file : std::filesystem::directory_iterator(docs / "json"))
        names.insert(file.path().filename().string().substr(0, file.path().filename().string().find('.')));
    return names;
}

/// Adds the paths of all members of a schema, or of those that a value has.
void add_schema_paths(const json& schema, const std::string& path, std::set<std::string>& paths) {
    if (!path.empty()) paths.insert(path);
    if (schema.contains("items")) add_schema_paths(schema["items"], path + "[]", paths);
    if (schema.contains("properties"))
        for (const auto& [name, member] : schema["properties"].items())
            add_schema_paths(member, path + "." + name, paths);
}

void add_paths(const json& value, const std::string& path, std::set<std::string>& paths) {
    if (!path.empty()) paths.insert(path);
    if (value.is_array())
        for (const json& item : value) add_paths(item, path + "[]", paths);
    if (value.is_object())
        for (const auto& [name, member] : value.items()) add_paths(member, path + "." + name, paths);
}

/// Two copies of the demo, one with mistakes, and what else makes the commands print everything.
struct Everything : ProjectFolder {
    Everything() {
        std::filesystem::copy(demo(), path() / "bench", std::filesystem::copy_options::recursive);
        std::filesystem::copy(demo(), path() / "faulty", std::filesystem::copy_options::recursive);
        write("faulty/kiai.toml", read("faulty/kiai.toml") +
                                      "[clip.spare]\nfile = \"clips/Tilt.wav\"\n[sound.broken]\ntakes = [\"oack\"]\n"
                                      "[sound.quiet]\ntakes = [\"oak-2\"]\ngain = -70\n"
                                      "[[binding]]\ntrigger = { notice = \"hush\" }\naction = { play = \"quiet\" }\n");
        write("expect.toml", "format = 1\n[[expect]]\nheard = \"oak\"\n");
        write("press.jsonl", "{\"trace\": 1}\n{\"at\": 0, \"press\": [118, 82]}\n{\"at\": 1, \"play\": \"lift\"}\n");
        write("new/loop.wav", wav_with_loop(sine(440, 0.5, 48000), 12000, 23999));
        write_wav("new/tin-1.wav", Signal(4800, 0.1f));
        write_wav("new/tin-3.wav", Signal(4800, 0.2f));
        write("new/text.wav", "text");
        write("drawing.svg", "<svg xmlns=\"http://www.w3.org/2000/svg\"><circle id=\"knob\" r=\"9\"/></svg>");
        write("taps.jsonl", "{\"at\": 0, \"playhead\": {\"paddle\": 0}}\n{\"at\": 0.5, \"notice\": \"tap\"}\n"
                            "{\"at\": 1, \"playhead\": {\"paddle\": 30}}\n");
    }
};

} // namespace

TEST_CASE("Every document is as its schema says, and every member of a schema is printed", "[tool]") {
    const Everything bench;
    REQUIRE(kiai_tool("rehearse bench press.jsonl --log log.jsonl --seed 2", bench.path()).status <= 1);
    const std::string run = "bench/run.jsonl";
    REQUIRE(kiai_tool("rehearse bench " + run + " --log all.jsonl --seed 2", bench.path()).status <= 1);
    const std::vector<std::pair<std::string, std::string>> commands{
        {"new", "new --json fresh"},
        {"add", "add fresh new --json"},
        {"add", "add bench new --json --author A --licence MIT --note N"},
        {"check", "check bench --json"},
        {"check", "check faulty --json"},
        {"finding-codes", "check --list --json"},
        {"credits", "credits fresh --json"},
        {"credits", "credits bench --json"},
        {"list", "list bench --json"},
        {"show", "show bench loop --json"},
        {"show", "show bench oak --json"},
        {"edit", "rename bench groan creak --json"},
        {"edit", "remove bench knock --json"},
        {"edit", "bind bench press lamp play oak --json"},
        {"convert", "convert bench flourish --to ogg --json"},
        {"zone-import", "zones bench --from drawing.svg --json"},
        {"motion-markers", "markers bench taps.jsonl paddle paddle --dry-run --json"},
        {"even", "even bench oak --json"},
        {"hear", "hear bench oak --times 3 --out oak.wav --json"},
        {"trace-summary", "trace " + run + " --json"},
        {"zone-list", "zones bench " + run + " --json"},
        {"rehearse", "rehearse bench " + run + " --expect expect.toml --baseline log.jsonl --json"},
        {"rehearse", "rehearse faulty press.jsonl --baseline bench --json"},
        {"rehearse", "rehearse bench " + run + " --seed 3 --baseline all.jsonl --json"},
        {"rehearse", "demo --out shown --json"},
        {"fire", "fire faulty --json"},
        {"why", "why faulty broken --json"},
        {"pack", "pack bench --out bench.kiai --json"},
        {"pack", "pack --list bench.kiai --json"},
        {"simulate", "simulate bench contact marble oak --times 50 --json"},
        {"report", "report bench --without-audio --out bench.html --json"},
        {"try", "try bench --no-browser --json & page=$!; sleep 3; kill $page; wait $page"},
        {"error", "hear faulty nothing --out none.wav --json"},
        {"error", "check nowhere --json"},
    };
    std::map<std::string, std::set<std::string>> printed;
    for (const auto& [document, command] : commands) {
        INFO(command);
        const Ran ran = kiai_tool(command, bench.path());
        INFO(ran.err);
        REQUIRE(ran.status <= (document == "error" ? 2 : 1));
        const json value = json::parse(ran.out);
        CHECK(value.at(document) == 1);
        CHECK(value.begin() != value.end());
        const std::string fault = schema_fault(value, schema_of(document), document);
        CHECK(fault == "");
        add_paths(value, "", printed[document]);
    }
    for (const std::string& document : documents()) {
        std::set<std::string> all;
        add_schema_paths(schema_of(document), "", all);
        for (const std::string& path : all) {
            INFO(document << path);
            if (document + path == "error.findings[].accepted") continue; // an accepted finding stops no command
            CHECK(printed[document].contains(path));
        }
    }
}

TEST_CASE("The schemas in docs are those of the tool, and the page has their members", "[tool]") {
    const std::string page = text_of(docs / "json.md");
    CHECK(documents().size() == 23);
    for (const std::string& document : documents()) {
        INFO(document);
        CHECK(kiai_tool("check --json --schema " + document).out ==
              text_of(docs / "json" / (document + ".schema.json")));
        CHECK(page.find(kiai_tool("check --schema " + document).out) != std::string::npos);
    }
    CHECK(kiai_tool("check --schema nothing").status == 2);
}

TEST_CASE("Each command with --json has a document", "[tool]") {
    const std::string help = kiai_tool("check --help").out;
    for (const std::string& document : documents()) CHECK(help.find(document) != std::string::npos);
}
