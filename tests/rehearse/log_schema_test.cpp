// The log as data: its schema, and what is read back.
#include "support/json_schema.h"
#include "support/places.h"
#include "support/project_folder.h"
#include "support/run_tool.h"
#include "support/storm.h"

#include <kiai/workshop/workshop.h>

#include <catch2/catch.hpp>

#include <nlohmann/json.hpp>

#include <set>
#include <sstream>

using nlohmann::json;
using namespace support;

namespace {

const std::string marble_run = source_folder() + "/examples/marble-run";

/// Adds the fields of a log, as paths.
void add_paths(const json& value, const std::string& path, std::set<std::string>& paths) {
    if (!path.empty()) paths.insert(path);
    if (value.is_object())
        for (const auto& [key, member] : value.items()) add_paths(member, path.empty() ? key : path + "." + key, paths);
    else if (value.is_array())
        for (const json& item : value)
            if (item.is_object()) add_paths(item, path + "[]", paths);
}

} // namespace

TEST_CASE("Every line of a log is what its schema says, and every field of the schema comes", "[log][tool]") {
    const std::string text = kiai_tool("check --schema log --json").out;
    CHECK(text == text_of(source_folder() + "/docs/log.schema.json"));
    CHECK(text_of(source_folder() + "/docs/log.md").find(kiai_tool("check --schema log").out) != std::string::npos);
    const json schema = json::parse(text);
    std::ostringstream out;
    const kiai::LoadResult loaded = kiai::load_project(marble_run);
    kiai::write_log(out, rehearse(loaded.project, kiai::load_trace(marble_run + "/run.jsonl").trace));
    // Calls that the demo does not make.
    kiai::Engine engine(loaded.project, {.seed = 1});
    engine.set_log(kiai::jsonl_log(out));
    std::vector<float> block(2 * 4800);
    engine.play("oack");
    engine.set_bus_gain("pieces", -6);
    for (int i = 0; i < 40; ++i) engine.play("marble");
    engine.render(block);
    engine.stop("marble");
    engine.render(block);
    engine.poll();
    engine.set_log({});
    std::istringstream lines(out.str());
    std::set<std::string> paths;
    std::size_t count = 0;
    for (std::string line; std::getline(lines, line);) {
        const json one = json::parse(line);
        if (one.contains("log")) {
            CHECK(one == json{{"log", 1}, {"rate", 48000}});
            continue;
        }
        ++count;
        INFO(line);
        const std::string fault = schema_fault(one, schema, "line");
        REQUIRE(fault == "");
        add_paths(one, "", paths);
    }
    CHECK(count > 500);
    std::set<std::string> rare{"from", "excluded", "layers[].layer", "layers[]", "action.number"};
    for (const kiai::LogField& field : kiai::log_fields()) {
        INFO(field.path);
        CHECK((paths.contains(field.path) || rare.contains(field.path)));
    }
}

TEST_CASE("A log that is read again has the same actions and limits", "[log]") {
    const Folder folder;
    const kiai::LoadResult loaded = kiai::load_project(marble_run);
    const kiai::Rehearsal run = rehearse(loaded.project, kiai::load_trace(marble_run + "/run.jsonl").trace);
    std::ostringstream out;
    kiai::write_log(out, run);
    folder.write("log.jsonl", out.str());
    const kiai::LoadedLog read = kiai::load_log(folder.path() / "log.jsonl");
    REQUIRE(read.findings.empty());
    REQUIRE(read.rehearsal.decisions.size() == run.decisions.size());
    CHECK(read.rehearsal.sample_rate == run.sample_rate);
    int actions = 0, limits = 0;
    for (std::size_t i = 0; i < run.decisions.size(); ++i) {
        const kiai::Decision &a = run.decisions[i], &b = read.rehearsal.decisions[i];
        REQUIRE(a.action.has_value() == b.action.has_value());
        REQUIRE(a.limit.has_value() == b.limit.has_value());
        if (a.action) CHECK(to_string(*a.action) == to_string(*b.action));
        if (a.limit) {
            CHECK(to_string(*a.limit) == to_string(*b.limit));
            CHECK(a.limit->full == b.limit->full);
            CHECK(b.limit->measured == Approx(a.limit->measured).margin(1e-6));
            CHECK(b.limit->allowed == Approx(a.limit->allowed).margin(1e-6));
        }
        actions += a.action ? 1 : 0, limits += a.limit ? 1 : 0;
    }
    CHECK(actions > 100);
    CHECK(limits > 10);
    folder.write("old.jsonl", "{\"log\":2,\"rate\":48000}\n");
    CHECK(kiai::load_log(folder.path() / "old.jsonl").findings.size() == 1);
}

TEST_CASE("A refusal and a theft name the limit with its numbers", "[limit][log]") {
    ProjectFolder folder;
    folder.write_wav("tone.wav", Signal(4800, 0.1f));
    folder.toml("[clip]\ntone = \"tone.wav\"\n[bus.few]\nlimit = { plays = 3, full = \"end-oldest\" }\n"
                "[sound.gap]\ntakes = [\"tone\"]\nlimit = { gap = \"60 ms\" }\n"
                "[sound.one]\ntakes = [\"tone\"]\nlimit = { plays = 1, full = \"refuse\" }\n"
                "[sound.few]\ntakes = [\"tone\"]\nbus = \"few\"\n");
    kiai::Engine engine(folder.load(), {.seed = 1});
    std::vector<kiai::Decision> log;
    engine.set_log([&](const kiai::Decision& decision) { log.push_back(decision); });
    std::vector<float> block(2 * 1920); // 40 ms
    engine.play("gap");
    engine.render(block);
    for (const char* sound : {"gap", "one", "one", "few", "few", "few", "few"}) engine.play(sound);
    engine.render(block);
    engine.poll();
    const auto first = [&](kiai::Outcome outcome) {
        for (const kiai::Decision& decision : log)
            if (decision.outcome == outcome) return decision;
        FAIL("no " << to_string(outcome));
        return kiai::Decision{};
    };
    using Kind = kiai::LimitReached::Kind;
    const kiai::Decision gap = first(kiai::Outcome::refused_gap), one = first(kiai::Outcome::refused_limit),
                         few = first(kiai::Outcome::stolen);
    CHECK(gap.limit.value().kind == Kind::gap);
    CHECK(gap.limit->measured == Approx(0.04));
    CHECK(gap.limit->allowed == Approx(0.06));
    CHECK(describe(gap) == "play gap: refused gap: gap (40 ms, minimum 60 ms)");
    CHECK(one.limit.value().kind == Kind::sound);
    CHECK(describe(one) == "play one: refused one: limit of sound one (1 play, maximum 1, refuse)");
    CHECK(few.limit.value().kind == Kind::bus);
    CHECK(few.limit->name == "few");
    CHECK(few.limit->measured == 3);
    CHECK(few.limit->allowed == 3);
    CHECK(few.limit->full == kiai::WhenFull::end_oldest);
}
