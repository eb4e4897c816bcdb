// Why something is silent: for each link a project in which only that link is broken, and the effect of its fix.
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <fstream>

using namespace support;
using kiai::Diagnosis;
using kiai::Link;

namespace {

const std::string clip = "[clip]\ntone = \"tone.wav\"\n";
const std::string knock = "[sound.knock]\ntakes = [\"tone\"]\n";
const std::string bound = "[[binding]]\ntrigger = { notice = \"n\" }\naction = { play = \"knock\" }\n";
const std::string given = "{\"at\": 0.1, \"notice\": \"n\"}\n";

Signal tone() {
    return sine(440, 0.25, 24000);
}

/// What breaks one link, and its fix: replacements in kiai.toml or in the trace.
struct Case {
    Link link;
    std::string toml, mended;
    std::string said;                ///< a part of what is reported, and of the fix
    std::string trace, mended_trace; ///< empty: asked of the project alone
};

std::string text_of(const Diagnosis& why) {
    std::string text = why.message();
    for (const Diagnosis::Step& step : why.chain) text += std::string("\n") + to_string(step.link) + ": " + step.detail;
    return text;
}

Diagnosis ask(const ProjectFolder& folder, const std::string& about, const std::string& trace) {
    const kiai::Project project = folder.load_with_findings().project;
    if (trace.empty()) return kiai::why_silent(project, about);
    folder.write("run.jsonl", trace);
    const kiai::LoadedTrace loaded = kiai::load_trace(folder.path() / "run.jsonl");
    REQUIRE(loaded.ok());
    return kiai::why_silent(project, about, kiai::rehearse(project, loaded.trace));
}

void check_case(const Case& one) {
    const ProjectFolder folder(one.toml);
    folder.write_wav("tone.wav", tone());
    folder.write_wav("still.wav", Signal(24000, 0.0002f));
    folder.write("text.wav", "this is no sound at all");
    const Diagnosis why = ask(folder, "knock", one.trace);
    INFO(text_of(why));
    REQUIRE_FALSE(why.heard());
    CHECK(why.broken()->link == one.link);
    CHECK((why.broken()->detail + why.fix).find(one.said) != std::string::npos);
    CHECK_FALSE(why.fix.empty());
    for (std::size_t i = 0; i + 1 < why.chain.size(); ++i) CHECK(why.chain[i].holds); // and no other
    folder.toml(one.mended);
    const Diagnosis after = ask(folder, "knock", one.mended_trace);
    INFO(text_of(after));
    CHECK(after.heard());
}

} // namespace

TEST_CASE("why names the one link that is broken, and after its fix the sound is heard", "[why]") {
    const std::string whole = clip + knock + bound;
    const std::string gate = "[dial.stock]\nrange = [0, 9]\n", in_scope = "[scope.bench]\n";
    const std::string when = bound + "when = \"stock > 0\"\n";
    const std::string scoped = bound + "scope = \"bench\"\n";
    const std::string tight = "[bus.main]\nlimit = { plays = 1 }\n";
    const std::string hum = "[sound.hum]\ntakes = [\"tone\"]\nloop = true\npriority = 5\n";
    const std::string hum_first = "{\"at\": 0, \"play\": \"hum\"}\n" + given;
    const Case cases[] = {
        {Link::registered, clip + "[sound.knock]\ntaks = [\"tone\"]\n" + bound, whole, "takes", {}, {}},
        {Link::registered, clip + "[sound.knok]\ntakes = [\"tone\"]\n", whole, "did you mean \"knok\"?", {}, {}},
        {Link::registered, "[clip\n" + knock + bound, whole, "", {}, {}},
        {Link::file, "[clip]\ntone = \"Tone.wav\"\n" + knock + bound, whole, "tone.wav", {}, {}},
        {Link::file, "[clip]\ntone = { pending = true }\n" + knock + bound, whole, "pending", {}, {}},
        {Link::decoded, "[clip]\ntone = \"text.wav\"\n" + knock + bound, whole, "text.wav", {}, {}},
        {Link::decoded, "[clip]\ntone = \"still.wav\"\n" + knock + bound, whole, "export", {}, {}},
        {Link::bound, clip + knock, whole, "engine.play(\"knock\")", {}, {}},
        {Link::bound, clip + knock, whole, "engine.play(\"knock\")", given, given},
        {Link::bound,
         clip + knock + "[[binding]]\ntrigger = { notice = \"n\" }\naction = { play = \"knok\" }\n",
         whole,
         "did you mean \"knock\"?",
         {},
         {}},
        {Link::triggered, whole, whole, "\"m\" came instead", "{\"at\": 0.1, \"notice\": \"m\"}\n", given},
        {Link::triggered, whole, whole, "no notice happened", "{\"at\": 0.1, \"key-down\": \"KeyT\"}\n", given},
        {Link::triggered,
         clip + knock + gate + "[[binding]]\ntrigger = { watch = \"stock > 20\" }\naction = { play = \"knock\" }\n",
         whole,
         "stock ranges from 0 to 9",
         {},
         {}},
        {Link::scope, clip + knock + in_scope + scoped, clip + knock + "[scope.bench]\non = true\n" + scoped,
         "enter_scope", given, given},
        {Link::scope, clip + knock + in_scope + scoped, clip + knock + in_scope + scoped, "resume_scope",
         "{\"at\": 0, \"scope-enter\": \"bench\"}\n{\"at\": 0.05, \"scope-pause\": \"bench\"}\n" + given,
         "{\"at\": 0, \"scope-enter\": \"bench\"}\n" + given},
        {Link::condition,
         clip + knock + gate + when,
         clip + knock + "[dial.stock]\nrange = [0, 9]\nstart = 3\n" + when,
         "`stock > 0` was false: the value was 0",
         {},
         {}},
        {Link::condition, clip + knock + bound + "chance = 0\n", whole, "chance", {}, {}},
        {Link::limit, clip + knock + hum + tight + bound, clip + knock + hum + bound, "bus main was full", hum_first,
         hum_first},
        {Link::lasted,
         clip + knock +
             "[[binding]]\ntrigger = { notice = \"n\" }\naction = [{ play = \"knock\" }, { stop = \"knock\" }]\n",
         whole,
         "after",
         {},
         {}},
        {Link::level, clip + knock + "gain = -90\n" + bound, whole, "sound \"knock\" has a gain of -90 dB", {}, {}},
        {Link::level,
         clip + "[bus.far]\ngain = -80\n" + knock + "bus = \"far\"\n" + bound,
         whole,
         "bus \"far\" has a gain of -80 dB",
         {},
         {}},
        {Link::level,
         "[clip]\ntone = { file = \"tone.wav\", gain = -70 }\n" + knock + bound,
         whole,
         "clip \"tone\" has a gain of -70 dB",
         {},
         {}},
        {Link::level,
         clip + knock +
             "gain = -90\n[[binding]]\ntrigger = { notice = \"n\" }\naction = [{ play = \"tone\" }, { play = "
             "\"knock\" }]\n",
         whole,
         "sound \"knock\" has a gain",
         {},
         {}}, // the other one that it plays is heard
        {Link::level, clip + knock + bound, whole, "was lowered by",
         "{\"at\": 0, \"bus-mute\": {\"main\": true}}\n" + given, given},
        {Link::level,
         clip + gate + knock + "follow = [{ dial = \"stock\", target = \"gain\", curve = [[0, -100], [9, 0]] }]\n" +
             bound,
         whole,
         "dial",
         {},
         {}},
    };
    for (const Case& one : cases) {
        INFO(one.toml << one.trace);
        check_case(one);
    }
}

TEST_CASE("why on a trigger: the press that lands elsewhere, and the trigger that nobody waits for", "[why]") {
    const ProjectFolder folder(clip + "[zone.plank]\nrectangle = { x = 10, y = 10, width = 100, height = 100 }\n"
                                      "[zone.lid]\ncircle = { x = 30, y = 30, r = 10 }\norder = 2\n"
                                      "[[binding]]\ntrigger = { press = \"plank\" }\naction = { play = \"tone\" }\n"
                                      "[[binding]]\ntrigger = { key-down = \"KeyT\" }\naction = { play = \"tone\" }\n");
    folder.write_wav("tone.wav", tone());
    const kiai::Project project = folder.load();
    const auto detail = [&](const std::string& about) {
        const Diagnosis why = kiai::why_silent(project, about);
        return why.heard() ? "heard" : why.broken()->detail + "; " + why.fix;
    };
    CHECK(detail("press 90 90") == "heard");
    CHECK(detail("press plank") == "heard");
    CHECK(detail("key-down KeyT") == "heard");
    CHECK(detail("press 500 500").find("in no zone") != std::string::npos);
    CHECK(detail("press 30 30").find("nothing is bound to press lid") != std::string::npos);
    CHECK(detail("key-down KeyS") == "nothing is bound to it; did you mean \"key-down KeyT\"?");
    CHECK(kiai::why_silent(project, "press 500 500").broken()->link == Link::triggered);
    CHECK(kiai::why_silent(project, "press 30 30").broken()->link == Link::bound);
}

TEST_CASE("A running engine is asked why, with its speaker", "[why][speaker]") {
    const ProjectFolder folder(clip + knock + bound);
    folder.write_wav("tone.wav", tone());
    kiai::Engine engine(folder.load(), {.seed = 1});
    engine.set_log({});
    engine.notice("m");
    render(engine, 480);
    engine.poll();
    const Diagnosis before = kiai::why_silent(engine, "knock");
    REQUIRE_FALSE(before.heard());
    CHECK(before.broken()->link == Link::triggered);
    CHECK(before.broken()->detail.find("\"m\" came instead") != std::string::npos);
    engine.notice("n");
    render(engine, 48000);
    engine.poll();
    CHECK(kiai::why_silent(engine, "knock").heard());
    const kiai::Speaker speaker(engine, {.device = "there is none of this name"});
    Diagnosis with = kiai::why_silent(engine, "knock", &speaker);
    REQUIRE_FALSE(with.heard());
    CHECK(with.broken()->link == Link::device);
    CHECK(with.fix.find("--devices") != std::string::npos);
}

TEST_CASE("kiai why: a table of links, JSON, status 1 where it is silent, over a trace and over a log", "[why][tool]") {
    const ProjectFolder folder(clip + knock + bound + "when = \"stock > 0\"\n[dial.stock]\n");
    folder.write_wav("tone.wav", tone());
    folder.write("run.jsonl", given);
    const Ran silent = kiai_tool("why knock", folder.path());
    CHECK(silent.status == 1);
    CHECK(silent.out.find("yes  scope\nNO   condition   `stock > 0` was false: the value was 0, at 0.100 s\n") !=
          std::string::npos);
    CHECK(silent.out.find("kiai.toml:6: knock is silent; change the condition, or the value") != std::string::npos);
    const auto json = nlohmann::json::parse(kiai_tool("why notice n --from-trace run.jsonl --json", folder.path()).out);
    CHECK(json["broken"] == "condition");
    CHECK(json["line"] == 6);
    CHECK(json["heard"] == false);
    CHECK(kiai_tool("rehearse run.jsonl --log log.jsonl", folder.path()).status == 0);
    const Ran log = kiai_tool("why knock --from-log log.jsonl", folder.path());
    CHECK(log.status == 1);
    CHECK(log.out.find("was false: the value was 0, at 0.100 s") != std::string::npos);
    CHECK(kiai_tool("why", folder.path()).status == 2);
    CHECK(kiai_tool("why knock --from-log nowhere.jsonl", folder.path()).err.find("[no-log]") != std::string::npos);
    folder.write("bad.jsonl", "{\"frame\": 1}\nno json\n");
    const Ran bad = kiai_tool("why knock --from-log bad.jsonl", folder.path());
    CHECK(bad.err.find("bad.jsonl:1:1: error: not a decision [log-line]") != std::string::npos);
    CHECK(bad.err.find("bad.jsonl:2:1: error: not valid JSON [log-line]") != std::string::npos);
}

TEST_CASE("A log that is read again holds what was written", "[log]") {
    const kiai::Project project = kiai::load_project(demo()).project;
    const kiai::Trace trace = kiai::load_trace(demo() / "run.jsonl").trace;
    const kiai::Rehearsal happened = kiai::rehearse(project, trace);
    const Folder folder;
    std::ofstream out(folder.path() / "log.jsonl");
    kiai::write_log(out, happened);
    out.close();
    const kiai::LoadedLog log = kiai::load_log(folder.path() / "log.jsonl");
    REQUIRE(log.ok());
    CHECK(log.rehearsal.sample_rate == 48000);
    REQUIRE(log.rehearsal.decisions.size() == happened.decisions.size());
    std::ofstream again(folder.path() / "again.jsonl");
    kiai::write_log(again, log.rehearsal);
    again.close();
    CHECK(folder.read("log.jsonl") == folder.read("again.jsonl"));
}
