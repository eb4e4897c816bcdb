// What continues when the project is changed: presses, holds, scopes, timers, counts, sequences.
#include "support/bench.h"

#include <catch2/catch.hpp>

using support::Bench;
using support::binding;
using support::hum;

namespace {

kiai::Project with(const std::string& text) {
    return support::project_of(support::Signal(1000, 0.1f), text);
}

std::vector<kiai::Frames> begun(const std::vector<kiai::Decision>& log) {
    std::vector<kiai::Frames> frames;
    for (const kiai::Decision& decision : support::with_outcome(log, kiai::Outcome::played))
        frames.push_back(decision.frame);
    return frames;
}

const std::string zone = "[zone.hopper]\ncircle = { x = 0, y = 0, r = 10 }\n";
const std::string other =
    "[sound.another]\ntakes = ['tone']\n[dial.more]\n[zone.far]\nrectangle = { x = 500, y = 0, width "
    "= 9, height = 9 }\n[scope.later]\n" +
    binding("notice = 'more'", "play = 'another'");

} // namespace

TEST_CASE("A press and a key that are held through a change are released as usual", "[change]") {
    const std::string text = hum + zone + binding("press = 'hopper'", "hold = 'hum'") +
                             binding("key-down = 'KeyA'", "hold = 'hum'") +
                             binding("release = 'hopper'", "play = 'tone'");
    Bench bench(text);
    bench.engine.press({0, 0});
    bench.engine.key_down("KeyA");
    CHECK(bench.told() == "played hum, played hum");
    bench.engine.set_project(with(other + text));
    bench.engine.press({0, 0});
    bench.engine.key_down("KeyA");
    CHECK(bench.told() == "changed, same-state, same-state");
    bench.engine.release();
    CHECK(bench.told() == "played tone, stopped");
    bench.engine.key_up("KeyA");
    CHECK(bench.told() == "stopped");
}

TEST_CASE("A removed zone loses its press, a new one is pressed, a moved one is tested where it is", "[change]") {
    const std::string bound = binding("press = 'hopper'", "hold = 'tone'");
    Bench bench(zone + bound);
    bench.engine.press({0, 0});
    CHECK(bench.told() == "played tone");
    bench.engine.set_project(
        with("[zone.tray]\ncircle = { x = 0, y = 0, r = 10 }\n" + binding("press = 'tray'", "play = 'tone'")));
    CHECK(bench.told() == "changed, lost, stopped, lost"); // the press, and the stay
    bench.engine.release();
    bench.engine.press({0, 0});
    CHECK(bench.told(2000) == "played tone");
    bench.engine.release();
    bench.engine.pointer_gone();
    bench.told();
    bench.engine.set_project(with("[zone.hopper]\ncircle = { x = 100, y = 0, r = 10 }\n" + bound));
    bench.engine.press({100, 0});
    CHECK(bench.told() == "changed, played tone");
}

TEST_CASE("Dials, counts, once and gaps continue through a change", "[change]") {
    const std::string text = "[dial.fill]\n" + binding("notice = 'a'", "play = 'tone'", "once = true") +
                             binding("notice = 'b'", "play = 'tone'", "every = 3") +
                             binding("notice = 'c'", "play = 'tone'", "when = 'fill > 0.5'");
    Bench bench(text);
    bench.engine.set_dial("fill", 0.9f);
    bench.engine.notice("a");
    bench.engine.notice("b");
    bench.engine.notice("b");
    CHECK(bench.told() == "played tone, not-met, not-met");
    bench.engine.set_project(with(other + text));
    for (const char* name : {"a", "b", "b", "c"}) bench.engine.notice(name);
    CHECK(bench.told() == "changed, not-met, played tone, not-met, played tone");
    bench.engine.notice("more");
    CHECK(bench.told() == "played another");
    bench.engine.set_project(
        with("[dial.fill]\nrange = [0, 0.4]\n" + binding("notice = 'c'", "play = 'tone'", "when = 'fill > 0.3'")));
    bench.engine.notice("c");
    CHECK(bench.told() == "changed, played tone"); // held in the range that it has now
}

TEST_CASE("Timers continue to the frame, and one with another time begins", "[change]") {
    const std::string every = binding("every = '10 ms'", "play = 'tone'");
    Bench bench(every + binding("after = '30 ms'", "notice = 'x'"));
    bench.decided(700);
    CHECK(begun(bench.log) == std::vector<kiai::Frames>{480});
    bench.engine.set_project(with(other + every));
    bench.decided(1000);
    CHECK(begun(bench.log) == std::vector<kiai::Frames>{960, 1440});
    bench.engine.set_project(with(binding("every = '20 ms'", "play = 'tone'")));
    bench.decided(2000);
    CHECK(begun(bench.log) == std::vector<kiai::Frames>{1700 + 960, 1700 + 1920});
}

TEST_CASE("A timer that is new in a paused scope waits until the scope continues", "[change]") {
    const std::string scope = "[scope.bench]\non = true\n";
    Bench bench(scope);
    bench.told(10);
    bench.engine.pause_scope("bench");
    bench.told(90);
    bench.engine.set_project(with(scope + binding("after = '10 ms'", "play = 'tone'", "scope = 'bench'")));
    CHECK(bench.told(2000) == "changed");
    bench.engine.resume_scope("bench");
    bench.decided(1000);
    CHECK(begun(bench.log) == std::vector<kiai::Frames>{2100 + 480});
}

TEST_CASE("A sequence that is the same continues where it is, another one is over", "[change]") {
    const auto sequence = [](const char* wait) {
        return "[sequence.run]\nsteps = [{ play = 'tone' }, { wait = '" + std::string(wait) +
               "' }, { play = 'tone' }]\n";
    };
    Bench bench(sequence("10 ms") + binding("notice = 'go'", "run = 'run'"));
    bench.engine.notice("go");
    bench.decided(100);
    bench.engine.set_project(with("[sequence.first]\nsteps = [{ play = 'tone' }]\n" + other + sequence("10 ms")));
    bench.decided(500);
    CHECK(begun(bench.log) == std::vector<kiai::Frames>{480});
    bench.engine.run("run");
    bench.decided(100);
    bench.engine.set_project(with(sequence("20 ms")));
    CHECK(bench.told(5000) == "changed, over");
    CHECK(bench.engine.waiting() == 0);
}

TEST_CASE("Scopes stay on or off, one that is gone is left, a new one may be on from the start", "[change]") {
    const std::string bound = hum + binding("notice = 'a'", "play = 'hum'", "scope = 'bench'");
    Bench bench("[scope.bench]\n" + bound);
    bench.engine.enter_scope("bench");
    bench.engine.notice("a");
    bench.told();
    bench.engine.set_project(with(other + "[scope.bench]\n" + bound));
    bench.engine.notice("a");
    CHECK(bench.told() == "changed, played hum");
    bench.engine.pause_scope("bench");
    bench.told(1000);
    bench.engine.set_project(with("[scope.bench]\n" + bound));
    bench.engine.notice("a");
    CHECK(bench.told() == "changed, scope-paused");
    bench.engine.set_project(
        with("[scope.drawer]\non = true\n" + hum + binding("scope-enter = 'drawer'", "play = 'tone'")));
    CHECK(bench.told(100) == "done, changed, played tone"); // the bench was left
    bench.told(20000);
    CHECK(bench.engine.sounding() == 0);
    bench.engine.enter_scope("bench");
    CHECK(bench.told() == "unknown-name");
}

TEST_CASE("A watch that holds continues, and what it held ends where it is gone", "[change]") {
    const std::string text = "[dial.fill]\n" + hum + binding("watch = 'fill > 0.8'", "hold = 'hum'");
    Bench bench(text);
    bench.engine.set_dial("fill", 0.9f);
    CHECK(bench.told() == "played hum");
    bench.engine.set_project(with(other + binding("watch = 'more > 2'", "play = 'tone'") + text));
    CHECK(bench.told() == "changed");
    bench.engine.set_dial("fill", 0.1f);
    CHECK(bench.told() == "over, stopped");
    bench.engine.set_dial("fill", 0.9f);
    CHECK(bench.told() == "played hum");
    bench.engine.set_project(with("[dial.fill]\nstart = 1\n" + hum + binding("watch = 'fill > 0.7'", "play = 'tone'")));
    CHECK(bench.told() == "changed, over, stopped, played tone");
}

TEST_CASE("Touches, playheads, moved zones and muted buses continue", "[change]") {
    const std::string text = hum + zone + "[motion.paddle]\nframes = 60\nrate = 30\nmarkers = { paddle = [0, 20] }\n" +
                             binding("contact = ['marble', 'oak']", "hold = 'hum'") +
                             binding("marker = ['paddle', 'paddle']", "play = 'tone'") +
                             binding("press = 'hopper'", "play = 'tone'");
    Bench bench(text);
    bench.engine.contact("marble", "oak", {.pair = 5});
    bench.engine.playhead("paddle", 10);
    bench.engine.move_zone("hopper", {50, 50});
    bench.engine.mute_bus("main");
    bench.told(1000);
    bench.engine.set_project(with("[motion.first]\nframes = 5\nmarkers = { x = [0] }\n[bus.extra]\n" + other + text));
    bench.engine.contact("marble", "oak", {.pair = 5});
    bench.engine.playhead("paddle", 15);
    CHECK(bench.told() == "changed, same-state");
    bench.engine.playhead("paddle", 25);
    bench.engine.press({50, 50});
    CHECK(bench.told(4000) == "played tone, played tone");
    for (const float sample : bench.heard) REQUIRE(sample == 0);
    bench.engine.contact_end(5);
    CHECK(bench.told() == "stopped");
}

TEST_CASE("What happened before a change is reported by the names of then", "[change]") {
    Bench bench(binding("notice = 'a'", "play = 'tone'") + binding("notice = 'b'", "mute = { bus = 'main' }"));
    bench.engine.notice("b");
    support::render(bench.engine, 100);
    bench.engine.set_project(with("[scope.x]\n" + binding("notice = 'c'", "play = 'tone'")));
    bench.engine.notice("b");
    bench.engine.notice("c");
    const auto log = bench.decided(100);
    REQUIRE(log.size() == 4);
    CHECK(to_string(log[0].action.value()) == "mute bus main");
    CHECK(log[0].binding == 2);
    CHECK(log[1].outcome == kiai::Outcome::changed);
    CHECK(log[1].on == bench.engine.project().fingerprint());
    CHECK(log[2].nearest == "c");
    CHECK(log[3].binding == 1);
}

TEST_CASE("A recording tells where the project was changed", "[change]") {
    Bench bench(binding("notice = 'a'", "play = 'tone'"));
    bench.engine.start_recording();
    bench.told(100);
    const kiai::Project changed = with(binding("notice = 'b'", "play = 'tone'"));
    bench.engine.set_project(changed);
    bench.engine.notice("b");
    bench.told(100);
    const kiai::Trace trace = bench.engine.stop_recording();
    REQUIRE(trace.lines.size() == 2);
    CHECK(trace.lines[0].report.kind == kiai::ReportKind::project);
    CHECK(trace.lines[0].report.name == changed.fingerprint());
    CHECK(*trace.lines[0].frame == 100);
    const support::Folder folder;
    REQUIRE(kiai::save_trace(folder.path() / "run.jsonl", trace).empty());
    const kiai::LoadedTrace loaded = kiai::load_trace(folder.path() / "run.jsonl");
    REQUIRE(loaded.trace.lines.size() == 2);
    CHECK(kiai::check_trace(changed, loaded.trace, "run.jsonl").empty());
    const auto doubts = kiai::check_trace(with(binding("notice = 'b'", "nothing = true")), loaded.trace, "run.jsonl");
    REQUIRE(doubts.size() == 1);
    CHECK(doubts[0].message.find(changed.fingerprint()) != std::string::npos);
}

TEST_CASE("A play begins with another one, or at once where that has begun", "[handles]") {
    Bench bench("");
    const kiai::Play first = bench.engine.play("tone", {.delay = kiai::Seconds(0.01)});
    bench.engine.play("tone", first);
    bench.engine.play("tone", first, {.delay = kiai::Seconds(0.01)});
    bench.decided(600);
    CHECK(begun(bench.log) == std::vector<kiai::Frames>{480, 480});
    bench.engine.play("tone", first);
    bench.decided(500);
    CHECK(begun(bench.log) == std::vector<kiai::Frames>{600, 960});
}
