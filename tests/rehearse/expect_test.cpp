// Expectations: each kind passes on one run and fails on a run made to break it, with what happened instead.
#include "support/bench.h"
#include "support/run_tool.h"
#include "support/text.h"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

#include <fstream>
#include <sstream>

using namespace support;
using namespace std::chrono_literals;
namespace expect = kiai::expect;
using kiai::ExpectationResult;

namespace {

/// A tenth of a second, from its first frame on.
Signal knock_samples() {
    return sine(1000, 0.25, 4800, 48000, 0.25);
}

const std::string bench =
    "[sound.knock]\ntakes = [\"tone\"]\nlimit = { plays = 2, gap = \"10 ms\", full = \"refuse\" }\n"
    "[sound.late]\ntakes = [\"tone\"]\ndelay = \"50 ms\"\n"
    "[sound.quiet]\ntakes = [\"tone\"]\ngain = -70\n"
    "[sound.hum]\ntakes = [\"tone\"]\nloop = true\n"
    "[dial.stock]\nrange = [0, 9]\n"
    "[scope.bench]\non = true\nfade = \"100 ms\"\n" +
    binding("notice = \"knock\"", "play = \"knock\"") + binding("notice = \"late\"", "play = \"late\"") +
    binding("notice = \"quiet\"", "play = \"quiet\"") +
    binding("notice = \"stock\"", "play = \"knock\"", "when = \"stock > 0\"") +
    binding("notice = \"hum\"", "play = \"hum\"", "scope = \"bench\"") +
    binding("scope-enter = \"bench\"", "play = \"hum\"", "scope = \"bench\"");

using Line = std::pair<double, std::string>; ///< seconds, notice; `+name` and `-name`: a scope

kiai::Rehearsal happened(const std::vector<Line>& lines, const std::string& more = {}) {
    kiai::Trace trace;
    for (const auto& [at, name] : lines) {
        kiai::Report report;
        report.name = name;
        if (name[0] == '+' || name[0] == '-') {
            report.kind = name[0] == '+' ? kiai::ReportKind::scope_enter : kiai::ReportKind::scope_leave;
            report.name = name.substr(1);
        }
        trace.lines.push_back({at, std::nullopt, report});
    }
    return kiai::rehearse(project_of(knock_samples(), bench + more), trace);
}

std::string told(const ExpectationResult& met) {
    std::ostringstream text;
    text << met;
    return text.str();
}

void check_has(const std::string& text, const std::string& part) {
    INFO(text << "\n  lacks: " << part);
    CHECK(has(text, part));
}

const std::vector<Line> off = {{0, "-bench"}}; // so that nothing hums

} // namespace

TEST_CASE("heard: within a time of each trigger, by the level that came out", "[expect]") {
    const auto run = happened({{0, "-bench"}, {0.5, "knock"}, {1.0, "knock"}});
    CHECK(meets(run, expect::heard("knock", {.of = "notice knock"})));
    CHECK(meets(run, expect::heard("knock", {.of = "notice knock", .within = 2ms})));
    CHECK(meets(run, expect::heard("knock")));
    const auto late = happened({{0, "-bench"}, {0.5, "late"}});
    CHECK(meets(late, expect::heard("late", {.of = "notice late", .within = 52ms})));
    const ExpectationResult failed = meets(late, expect::heard("late", {.of = "notice late", .within = 45ms}));
    CHECK_FALSE(failed);
    check_has(
        told(failed),
        "expected: late is heard within 45 ms of notice late; happened: notice late at 0.500 s: heard 50.0 ms later");
    CHECK((failed.from < 24000 && failed.to > 24000 + 2400)); // the piece of the picture
    const auto quiet = happened({{0, "-bench"}, {0.5, "quiet"}});
    CHECK_FALSE(meets(quiet, expect::heard("quiet", {.of = "notice quiet"})));
    CHECK_FALSE(meets(quiet, expect::heard("quiet")));
    const auto kept = happened({{0, "-bench"}, {0.5, "knock"}, {1.0, "stock"}});
    check_has(told(meets(kept, expect::heard("knock", {.of = "notice stock"}))),
              "ignored: condition stock > 0 is false (value 0)");
    CHECK(meets(kept, expect::heard("knock", {.of = "notice knock", .to = 0.9s})));
}

TEST_CASE("What cannot be seen in a run is not met", "[expect]") {
    const auto run = happened({{0, "-bench"}, {0.5, "knock"}});
    check_has(told(meets(run, expect::heard("knok"))), "unknown sound \"knok\"; did you mean \"knock\"?");
    check_has(told(meets(run, expect::silent("knok"))), "unknown sound \"knok\"");
    check_has(told(meets(run, expect::heard("knock", {.of = "notice late"}))), "notice late did not happen");
    check_has(told(meets(run, expect::heard("knock", {.of = "nonsense"}))), "unknown trigger \"nonsense\"");
    CHECK_FALSE(meets(run, expect::at_most(3, "late")));
    CHECK_FALSE(meets(run, expect::level("late", -20, 0)));
    CHECK_FALSE(meets(run, expect::fresh("late")));
    CHECK_FALSE(meets(run, expect::fresh("knock"))); // once is not twice
    CHECK_FALSE(meets(run, expect::ended("knock", {.of = "notice late"})));
    CHECK_FALSE(meets(run, expect::refused("notice late", "gap")));
}

TEST_CASE("silent: nothing between here and there, of a sound or of everything", "[expect]") {
    const auto run = happened({{0, "-bench"}, {0.5, "knock"}, {1.0, "quiet"}});
    CHECK(meets(run, expect::silent("", {.from = 0.2s, .to = 0.5s})));
    CHECK(meets(run, expect::silent("", {.from = 0.61s})));
    CHECK(meets(run, expect::silent("late")));
    const ExpectationResult failed = meets(run, expect::silent("", {.from = 0.2s, .to = 0.55s}));
    CHECK_FALSE(failed);
    check_has(told(failed), "nothing is heard, between 0.2 s and 0.55 s; happened: knock #");
    CHECK_FALSE(meets(run, expect::silent("knock")));
    CHECK_FALSE(meets(run, expect::silent("", {.from = 0.59s})));
}

TEST_CASE("at most so many plays at once", "[expect]") {
    const auto run = happened({{0, "-bench"}, {0.5, "knock"}, {0.52, "knock"}, {0.54, "knock"}, {0.55, "late"}});
    CHECK(meets(run, expect::at_most(2, "knock")));
    CHECK_FALSE(meets(run, expect::at_most(1, "knock")));
    CHECK(meets(run, expect::at_most(3)));
    const ExpectationResult failed = meets(run, expect::at_most(2));
    check_has(told(failed), "at most 2 plays at once; happened: 3 at 0.550 s");
    CHECK(meets(run, expect::at_most(1, "knock", {.to = 0.51s})));
}

TEST_CASE("fresh: never the same take twice in a row", "[expect]") {
    const ProjectFolder folder("[clip]\na-1 = \"a.wav\"\na-2 = \"b.wav\"\na-3 = \"c.wav\"\n"
                               "[sound.mixed]\ntakes = { series = \"a\" }\n"
                               "[sound.even]\ntakes = { series = \"a\" }\npick = \"weighted\"\n"
                               "[sound.one]\ntakes = [\"a-1\"]\n");
    for (const char* name : {"a.wav", "b.wav", "c.wav"}) folder.write_wav(name, knock_samples());
    const kiai::Project project = folder.load();
    const auto plays = [&](const char* sound) {
        kiai::Trace trace;
        for (int i = 0; i < 30; ++i) {
            kiai::Report report;
            report.kind = kiai::ReportKind::play;
            report.name = sound;
            trace.lines.push_back({0.3 * i, std::nullopt, report});
        }
        return kiai::rehearse(project, trace);
    };
    const auto mixed = plays("mixed"), even = plays("even"), one = plays("one");
    CHECK(meets(mixed, expect::fresh("mixed")));
    check_has(told(meets(even, expect::fresh("even"))), "both played a-");
    check_has(told(meets(one, expect::fresh("one"))), "its only take a-1");
}

TEST_CASE("level: the peak of each play lies between", "[expect]") {
    const auto run = happened({{0, "-bench"}, {0.5, "knock"}, {1.0, "quiet"}});
    CHECK(meets(run, expect::level("knock", -13, -11)));
    CHECK(meets(run, expect::level("quiet", -90, -80)));
    const ExpectationResult failed = meets(run, expect::level("knock", -10, 0));
    check_has(told(failed), "each play of knock peaks between -10 and 0 dBFS; happened: knock #");
    check_has(told(failed), "peaks at -12.0 dBFS");
    CHECK_FALSE(meets(run, expect::level("knock", -30, -13)));
}

TEST_CASE("ended: over by the time that a scope is left", "[expect]") {
    const auto run = happened({{0.5, "-bench"}});
    CHECK(meets(run, expect::ended("hum", {.of = "scope-leave bench", .within = 101ms})));
    const ExpectationResult failed = meets(run, expect::ended("", {.of = "scope-leave bench", .within = 50ms}));
    check_has(told(failed),
              "everything ends within 50 ms of scope-leave bench; happened: hum #1 plays for 100 ms after");
    const auto on = happened({{0.5, "knock"}, {3, "knock"}});
    CHECK_FALSE(meets(on, expect::ended("hum", {.of = "notice knock", .within = 50ms})));
}

TEST_CASE("refused: this trigger by that rule, each time", "[expect]") {
    const auto run =
        happened({{0, "-bench"}, {0.3, "stock"}, {0.5, "knock"}, {0.505, "knock"}, {0.52, "knock"}, {0.54, "knock"}});
    CHECK(meets(run, expect::refused("notice stock", "stock > 0")));
    CHECK(meets(run, expect::refused("notice stock", "not-met")));
    CHECK(meets(run, expect::refused("notice knock", "gap", {.from = 0.502s, .to = 0.51s})));
    CHECK(meets(run, expect::refused("notice knock", "sound knock", {.from = 0.53s})));
    CHECK(meets(run, expect::refused("notice knock", "refuse", {.from = 0.53s})));
    const ExpectationResult failed = meets(run, expect::refused("notice knock", "gap"));
    check_has(told(failed), "notice knock is refused by gap; happened: at 0.500 s: notice knock: played knock");
    CHECK_FALSE(meets(run, expect::refused("notice stock", "chance 0.5")));
    const auto scope = happened({{0, "-bench"}, {0.5, "hum"}});
    CHECK(meets(scope, expect::refused("notice hum", "scope-off")));
}

TEST_CASE("A log tells as much as it can: when, how many, which takes, how loud", "[expect]") {
    const auto run = happened({{0, "-bench"}, {0.5, "knock"}, {0.52, "knock"}});
    const Folder folder;
    std::ofstream out(folder.path() / "log.jsonl");
    write_log(out, run);
    out.close();
    const auto log = kiai::load_log(folder.path() / "log.jsonl").rehearsal;
    CHECK(meets(log, expect::heard("knock", {.of = "notice knock"})));
    CHECK(meets(log, expect::at_most(2, "knock")));
    CHECK_FALSE(meets(log, expect::at_most(1, "knock")));
    CHECK(meets(log, expect::level("knock", -13, -11)));
    CHECK(meets(log, expect::silent("", {.from = 1s})));
    CHECK_FALSE(meets(log, expect::silent("", {.from = 0.4s})));
}

TEST_CASE("A witness watches an engine that a test drives", "[expect]") {
    kiai::Engine engine(project_of(knock_samples(), bench), {.seed = 1, .record_levels = true});
    kiai::RunRecorder witness(engine);
    witness.render(100ms);
    CHECK(engine.now() == 4800);
    engine.notice("knock");
    witness.render(500ms);
    CHECK(meets(witness.seen(), expect::heard("knock", {.of = "notice knock"})));
    CHECK_FALSE(meets(witness.seen(), expect::silent("knock")));
    CHECK(witness.seen().samples.size() == 2 * 28800);
    CHECK(witness.seen().length == 28800);
}

TEST_CASE("A file of expectations: met, failed with both sides and its line, status and pictures", "[expect][tool]") {
    const ProjectFolder folder("[clip]\ntone = \"tone.wav\"\n" + bench);
    folder.write_wav("tone.wav", knock_samples());
    folder.write("run.jsonl", "{\"at\": 0, \"scope-leave\": \"bench\"}\n{\"at\": 0.5, \"notice\": \"knock\"}\n"
                              "{\"at\": 0.505, \"notice\": \"knock\"}\n{\"at\": 1, \"notice\": \"late\"}\n");
    const std::string good =
        "format = 1\n[[expect]]\nheard = \"knock\"\nof = \"notice knock\"\nto = \"0.502 s\"\n"
        "[[expect]]\nsilent = true\nfrom = \"2 s\"\n[[expect]]\nsilent = \"hum\"\nfrom = \"0.2 s\"\n"
        "[[expect]]\nat-most = 2\nsound = \"knock\"\n[[expect]]\nlevel = [-13, -11]\nsound = \"knock\"\n"
        "[[expect]]\nrefused = \"notice knock\"\nby = \"gap\"\nfrom = \"0.503 s\"\nnote = \"one hand\"\n"
        "[[expect]]\nended = \"hum\"\nof = \"scope-leave bench\"\nwithin = \"150 ms\"\n";
    folder.write("good.toml", good);
    const Ran met = kiai_tool("rehearse run.jsonl --expect good.toml", folder.path());
    INFO(met.out << met.err);
    CHECK(met.status == 1); // the scope is left at the frame at which its hum begins
    check_has(met.out,
              "good.toml:23: expected: hum ends within 150 ms of scope-leave bench; happened: it was not playing");
    check_has(met.out, "7 expectations: 6 met, 1 failed\n");
    folder.write("fine.toml", good.substr(0, good.rfind("[[expect]]")));
    CHECK(kiai_tool("rehearse run.jsonl --expect fine.toml", folder.path()).status == 0);
    folder.write("bad.toml", "format = 1\n[[expect]]\nheard = \"late\"\nof = \"notice late\"\nwithin = \"20 ms\"\n");
    const Ran failed = kiai_tool("rehearse run.jsonl --expect bad.toml --failures pieces", folder.path());
    CHECK(failed.status == 1);
    check_has(failed.out,
              "FAILED  bad.toml:2: expected: late is heard within 20 ms of notice late; happened: notice late at "
              "1.000 s: heard 50.0 ms later\n1 expectation: 0 met, 1 failed\n");
    CHECK(folder.read("pieces/line-2.png").substr(1, 3) == "PNG");
    const auto json =
        nlohmann::json::parse(kiai_tool("rehearse run.jsonl --expect bad.toml --json", folder.path()).out);
    CHECK(json["expectations"][0]["met"] == false);
    CHECK(json["expectations"][0]["line"] == 2);
}

TEST_CASE("Mistakes in a file of expectations have place, reason and fix", "[expect]") {
    const Folder folder;
    const auto found = [&](const std::string& text) {
        folder.write("e.toml", text);
        std::string lines;
        const auto loaded = kiai::load_expectations(folder.path() / "e.toml");
        for (const kiai::Finding& finding : loaded.findings) {
            std::ostringstream line;
            line << finding;
            lines += line.str().substr(line.str().find("e.toml")) + "\n";
        }
        return lines;
    };
    const std::string head = "format = 1\n[[expect]]\n";
    CHECK(found(head + "heard = \"a\"\n").empty());
    check_has(found("[[expect]]\nheard = \"a\"\n"), "[unknown-format]; write format = 1 at its top");
    check_has(found(head + "herd = \"a\"\n"),
              "e.toml:3:1: error: expectation 1: unknown key `herd` [unknown-key]; did you mean `heard`?");
    check_has(found(head + "within = \"1 s\"\n"), "no expectation given [missing-key]; write one of: heard, silent");
    check_has(found(head + "heard = \"a\"\nfresh = \"a\"\n"), "`heard` and `fresh` are two expectations");
    check_has(found(head + "heard = \"a\"\nof = \"pres b\"\n"),
              "e.toml:4:6: error: expectation 1: unknown trigger \"pres b\" [bad-value]");
    check_has(found(head + "level = [-3, -40]\nsound = \"a\"\n"), "`level` takes two numbers, the lower first");
    check_has(found(head + "level = [-40, -3]\n"), "write sound = \"oak\"");
    check_has(found(head + "refused = \"press a\"\n"), "write by = ");
    check_has(found(head + "silent = 3\n"), "`silent` takes a sound, or true");
    check_has(found(head + "ended = true\n"), "write of = \"press hopper\"");
    check_has(found(head + "heard = \"a\"\nfrom = \"2 s\"\nto = \"1 s\"\n"), "`to` is not after `from`");
    check_has(found(head + "heard = \"a\"\nsound = \"b\"\n"), "`sound` belongs to `at-most` and `level`");
    check_has(found(head + "at-most = \"three\"\n"), "takes a number");
    check_has(found("format = 1\n[[expect\n"), "[toml-syntax]");
    const auto none = kiai::load_expectations(folder.path() / "nowhere.toml");
    REQUIRE(none.findings.size() == 1);
    CHECK(none.findings[0].code == kiai::FindingCode::no_expectations);
}

TEST_CASE("The demo's own expectations are met", "[expect]") {
    const kiai::Project project = kiai::load_project(demo()).project;
    const auto run = kiai::rehearse(project, kiai::load_trace(demo() / "run.jsonl").trace);
    const auto loaded = kiai::load_expectations(demo() / "expect.toml");
    REQUIRE(loaded.ok());
    CHECK(loaded.expectations.size() >= 12);
    std::set<kiai::Expectation::Kind> kinds;
    for (const kiai::Expectation& expectation : loaded.expectations) {
        CHECK(meets(run, expectation));
        kinds.insert(expectation.kind);
    }
    CHECK(kinds.size() == 7);
}
