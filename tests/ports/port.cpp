// Plays the same run on every system: a project that is made in code, with every kind of trigger and modulation, and a
// fixed sequence of calls. Prints a digest of the decisions, and one of the samples, with the portable kernels and with
// the system's vector kernels.
#include "played.h"

#include <kiai/builder.h>
#include <kiai/engine.h>

#include <cstdint>
#include <cstdio>
#include <string>
#include <vector>

namespace {

using kiai::Settings;

/// Marsaglia's xorshift of 32 bits: whole numbers alone, so the same everywhere.
class Chance {
  public:
    explicit Chance(std::uint32_t seed) : state_(seed) {}
    std::uint32_t operator()() {
        state_ ^= state_ << 13;
        state_ ^= state_ >> 17;
        state_ ^= state_ << 5;
        return state_;
    }
    int below(int most) { return static_cast<int>((*this)() % static_cast<std::uint32_t>(most)); }
    /// From 0 to 1, in steps of 1/1024.
    float share() { return static_cast<float>(below(1025)) / 1024.0f; }

  private:
    std::uint32_t state_;
};

kiai::Samples noise(int rate, int channels, int frames, std::uint32_t seed) {
    kiai::Samples samples;
    samples.rate = rate;
    samples.channels = channels;
    Chance chance(seed);
    float level = 0.5f;
    for (int i = 0; i < frames; ++i, level *= 0.9997f)
        for (int c = 0; c < channels; ++c) samples.interleaved.push_back((chance.share() - 0.5f) * level);
    return samples;
}

/// Two points.
kiai::Setting curve(int x, int y, int next_x, int next_y) {
    return std::vector<kiai::Setting>{std::vector<kiai::Setting>{x, y}, std::vector<kiai::Setting>{next_x, next_y}};
}

kiai::Project bench() {
    kiai::ProjectBuilder project;
    project.clip("oak-1", noise(48000, 1, 9600, 1)).clip("oak-2", noise(44100, 1, 8000, 2));
    project.clip("glass-1", noise(96000, 2, 12000, 3)).clip("motor", noise(48000, 2, 24000, 4));
    project.set("bus.pieces.duck", Settings{{"under", "signals"}, {"gain", -6}, {"attack", "20 ms"}});
    project.set("bus.pieces.low-pass", 9000).set("bus.signals.gain", -2);
    project.set("dial.fill.range", {0, 1}).set("dial.piece.range", {1, 3});
    project.set("scope.bench.on", true).set("scope.drawer.fade", "100 ms");
    project.set("sound.oak.takes", {"oak-1", "oak-2"}).set("sound.oak.bus", "pieces");
    project.set("sound.oak.vary", Settings{{"pitch", 2}, {"gain", 3}, {"pan", 0.5}, {"distribution", "bell"}});
    project.set("sound.oak.limit", Settings{{"plays", 5}, {"gap", "4 ms"}, {"full", "end-quietest"}});
    project.add("sound.oak.follow",
                Settings{{"value", "strength"}, {"target", "gain"}, {"curve", curve(0, -30, 1, 0)}});
    project.add("sound.oak.follow",
                Settings{{"value", "strength"}, {"target", "low-pass"}, {"curve", curve(0, 400, 1, 20000)}});
    project.set("sound.glass.takes", {"glass-1"}).set("sound.glass.bus", "pieces").set("sound.glass.pitch", 3);
    project.set("sound.glass.fade-in", "5 ms").set("sound.glass.limit.plays", 3);
    project.set("sound.lift.takes", {"motor"});
    project.set("sound.lift.loop",
                Settings{{"from", "100 ms"}, {"to", "350 ms"}, {"crossfade", "20 ms"}, {"end", "tail"}});
    project.add("sound.lift.lfo", Settings{{"target", "pitch"}, {"shape", "random"}, {"rate", 3}, {"depth", 1}});
    project.add("sound.lift.lfo", Settings{{"target", "pan"}, {"shape", "sine"}, {"rate", 0.7}, {"depth", 0.6}});
    project.add("sound.lift.lfo",
                Settings{{"target", "gain"}, {"shape", "square"}, {"rate", 5}, {"depth", 2}, {"phase", "free"}});
    project.add(
        "sound.lift.follow",
        Settings{{"dial", "fill"}, {"target", "pitch"}, {"curve", curve(0, -4, 1, 4)}, {"interpolation", "smooth"}});
    project.set("sound.signal.takes", {"oak-2"}).set("sound.signal.bus", "signals").set("sound.signal.high-pass", 300);
    project.set("zone.hopper.circle", Settings{{"x", 100}, {"y", 80}, {"r", 50}});
    project.set("zone.tray.polygon", {{0, 200}, {300, 210}, {280, 300}, {20, 320}}).set("zone.tray.order", 2);
    project.set("zone.drawer.rectangle", Settings{{"x", 50}, {"y", 50}, {"width", 400}, {"height", 300}});
    project.set("zone.drawer.scope", "drawer");
    project.set("motion.paddle.frames", 60).set("motion.paddle.rate", 30).set("motion.paddle.markers.down", {10, 40});
    project.set("sequence.intro.steps",
                {Settings{{"play", "oak"}}, Settings{{"wait", {"10 ms", "80 ms"}}}, Settings{{"play", "glass"}},
                 Settings{{"wait", "end"}}, Settings{{"play", "oak"}}});
    const auto bind = [&](Settings trigger, Settings action, const char* when = "") {
        Settings binding{{"trigger", std::move(trigger)}, {"action", std::move(action)}};
        if (*when != '\0') binding.members.push_back({"when", when});
        project.add("binding", std::move(binding));
    };
    bind({{"press", "hopper"}}, {{"play", "oak"}, {"gain", -3}});
    bind({{"press", "tray"}}, {{"hold", "lift"}});
    bind({{"enter", "tray"}}, {{"play", "glass"}});
    bind({{"press", "drawer"}}, {{"play", "signal"}}, "fill > 0.5");
    bind({{"key-down", "KeyT"}}, {{"run", "intro"}});
    bind({{"key-down", "Space"}}, {{"toggle", "lift"}});
    bind({{"contact", {"marble", "oak"}}}, {{"play", "oak"}});
    bind({{"contact", {"marble", "glass"}}}, {{"play", "glass"}}, "strength > 0.2");
    bind({{"marker", {"paddle", "down"}}}, {{"play", "oak"}});
    bind({{"notice", "done"}}, {{"play", "signal"}});
    bind({{"watch", "fill > 0.8"}}, {{"play", "signal"}});
    bind({{"every", {"170 ms", "230 ms"}}}, {{"play", "glass"}});
    bind({{"scope-enter", "drawer"}}, {{"play", "oak"}});
    const kiai::LoadResult built = project.build();
    for (const kiai::Finding& finding : built.findings)
        if (finding.severity == kiai::Severity::error) std::fprintf(stderr, "%s\n", to_string(finding).c_str());
    return built.project;
}

/// Makes one call of a fixed sequence.
void call(kiai::Engine& engine, Chance& chance, std::vector<kiai::Play>& plays) {
    const float share = chance.share();
    const auto any = [&]() -> kiai::Play& { return plays[static_cast<std::size_t>(chance.below(8))]; };
    const kiai::Point point{static_cast<float>(chance.below(400)), static_cast<float>(chance.below(400))};
    switch (chance.below(24)) {
    case 0:
        return engine.press(point);
    case 1:
        return engine.release();
    case 2:
        return engine.pointer(point);
    case 3:
        return engine.key_down(chance.below(2) == 0 ? "KeyT" : "Space");
    case 4:
        return engine.key_up(chance.below(2) == 0 ? "KeyT" : "Space");
    case 5:
    case 6:
        return engine.contact("marble", "oak", {.strength = share, .place = 2 * chance.share() - 1});
    case 7:
        return engine.contact("marble", "glass", {.strength = share});
    case 8:
        return engine.notice("done", {{"speed", share}});
    case 9:
        return engine.set_dial("fill", share);
    case 10:
        return engine.playhead("paddle", share * 59);
    case 11:
        return chance.below(2) == 0 ? engine.enter_scope("drawer") : engine.leave_scope("drawer");
    case 12:
        return chance.below(2) == 0 ? engine.pause_scope("bench") : engine.resume_scope("bench");
    case 13:
    case 14: {
        const char* const sounds[] = {"oak", "glass", "lift", "signal"};
        any() = engine.play(sounds[chance.below(4)], {.gain = -6 * share, .pitch = 4 * share - 2, .pan = share - 0.5f});
        return;
    }
    case 15:
        return any().set_pitch(12 * share - 6, kiai::Seconds(0.05));
    case 16:
        return any().set_gain(-20 * share, kiai::Seconds(0.05));
    case 17:
        return any().set_pan(2 * share - 1, kiai::Seconds(0.05));
    case 18:
        return any().pause();
    case 19:
        return any().resume();
    case 20:
        return any().stop();
    case 21:
        return any().seek(kiai::Seconds(0.1 * static_cast<double>(share)));
    case 22:
        return engine.set_bus_gain("pieces", -12 * share, kiai::Seconds(0.1));
    default:
        return engine.mute_bus("signals", chance.below(2) == 0);
    }
}

ports::Played run(const kiai::Project& project, bool portable) {
    ports::Played run;
    kiai::Engine engine(project, {.seed = 7, .portable_kernels = portable});
    engine.set_findings([](const kiai::Finding&) {});
    engine.set_log([&](const kiai::Decision& decision) { run.add(decision); });
    Chance chance(2026);
    std::vector<kiai::Play> plays(8);
    for (int step = 0; step < 1000; ++step) {
        for (int calls = chance.below(4); calls > 0; --calls) call(engine, chance, plays);
        std::vector<float> block(2 * static_cast<std::size_t>(1 + chance.below(700)));
        engine.render(block);
        engine.poll();
        run.samples.insert(run.samples.end(), block.begin(), block.end());
    }
    return run;
}

} // namespace

int main() {
    const kiai::Project project = bench();
    return ports::compare(run(project, true), run(project, false));
}
