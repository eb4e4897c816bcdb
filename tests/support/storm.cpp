#include "support/storm.h"

#include "support/signal.h"

#include <kiai/load.h>
#include <kiai/workshop/rehearse.h>

#include <algorithm>
#include <array>
#include <cstdlib>
#include <fstream>
#include <iostream>
#include <limits>
#include <memory>

namespace support {

namespace {

constexpr const char* bench = R"(
[clip]
a-1 = "a.wav"
a-2 = "b.wav"
a-3 = "c.wav"
long = { file = "long.wav", stream = true }
[dial.fill]
[dial.stock]
range = [0, 9]
start = 5
[bus.low]
limit = { plays = 12, full = "end-quietest" }
duck = { under = "calls", gain = -9, attack = "10 ms", release = "30 ms" }
low-pass = "8 kHz"
follow = [{ dial = "fill", target = "high-pass", curve = [[0, 10], [1, 2000]] }]
[bus.deep]
into = "low"
gain = -3
[bus.calls]
[sound.knock]
takes = { series = "a" }
vary = { pitch = 3, gain = 4, pan = 0.4, delay = "5 ms" }
follow = [{ value = "strength", target = "gain", curve = [[0, -30], [1, 0]] }, { dial = "fill", target = "pitch", curve = [[0, -2], [1, 2]] }]
limit = { plays = 6, gap = "3 ms", full = "end-quietest" }
bus = "deep"
[sound.hum]
takes = ["a-1"]
loop = { from = "10 ms", to = "60 ms", crossfade = "5 ms", end = "tail" }
lfo = [{ target = "pitch", shape = "random", rate = 5, depth = 1 }]
follow = [{ value = "speed", target = "gain", curve = [[0, -20], [1, 0]] }]
limit = { plays = 4, full = "restart" }
[sound.pile]
bus = "calls"
[[sound.pile.layer]]
takes = { series = "a" }
chance = 0.6
low-pass = "3 kHz"
[[sound.pile.layer]]
takes = ["a-2", "a-3"]
pick = "weighted"
delay = "7 ms"
[sound.far]
takes = ["long"]
loop = true
limit = { plays = 3 }
bus = "low"
[scope.bench]
on = true
fade = "20 ms"
[scope.drawer]
[zone.plank]
rectangle = { x = 0, y = 0, width = 100, height = 100 }
[zone.lid]
circle = { x = 50, y = 50, r = 20 }
order = 3
scope = "bench"
[motion.wheel]
frames = 60
markers = { tooth = [0, 30] }
[sequence.finish]
scope = "bench"
steps = [{ play = "pile" }, { wait = "30 ms" }, { repeat = 3, steps = [{ play = "knock" }, { wait = "end" }] }]
)";

std::string bindings() {
    std::string text;
    const auto bind = [&](const std::string& trigger, const std::string& action, const std::string& more = {}) {
        text += "[[binding]]\ntrigger = { " + trigger + " }\naction = " + action + "\n" + more + "\n";
    };
    bind("press = \"plank\"", "{ play = \"knock\" }", "when = \"stock > 0\"");
    bind("press = \"lid\"", "{ hold = \"hum\" }", "scope = \"bench\"");
    bind("release = \"lid\"", "{ play = \"pile\" }");
    bind("enter = \"lid\"", "{ play = \"knock\", pitch = 4 }");
    bind("key-down = \"KeyT\"", "{ toggle = \"hum\" }");
    bind("key-up = \"KeyT\"", "[{ set = \"stock\", to = 3 }, { notice = \"more\" }]");
    bind("contact = [\"x\", \"y\"]", "{ play = \"knock\" }");
    bind("contact-end = [\"x\", \"y\"]", "{ play = \"pile\" }", "every = 2");
    bind("marker = [\"wheel\", \"tooth\"]", "{ play = \"knock\" }", "chance = 0.5");
    bind("watch = \"fill > 0.8\", margin = 0.05", "{ hold = \"far\" }", "scope = \"bench\"");
    bind("notice = \"more\"", "{ run = \"finish\" }");
    bind("notice = \"quiet\"",
         "[{ mute = { bus = \"low\" } }, { set = { bus = \"deep\" }, gain = -9, over = \"30 ms\" }]");
    bind("notice = \"loud\"", "{ unmute = { bus = \"low\" } }");
    bind("notice = \"still\"", "[{ pause = \"hum\" }, { stop = \"knock\", fade = \"8 ms\" }]");
    bind("notice = \"on\"", "{ resume = \"hum\" }");
    bind("scope-enter = \"drawer\"", "{ restart = \"far\" }");
    bind("every = \"50 ms\"", "{ play = \"pile\", for = \"20 ms\" }", "scope = \"drawer\"");
    bind("ended = \"pile\"", "{ play = \"knock\", gain = -20 }", "gap = \"40 ms\"");
    return text;
}

} // namespace

// Does not use the test library, because fuzzers use this file too.
StormProject::StormProject() {
    std::string name = (std::filesystem::temp_directory_path() / "kiai-storm-XXXXXX").string();
    if (!mkdtemp(name.data())) std::abort();
    folder_ = name;
    for (int state = 0; state < 2; ++state) {
        const std::filesystem::path folder = folder_ / std::to_string(state);
        std::filesystem::create_directory(folder);
        const auto stereo = [&](const char* file, const Signal& side, int rate = 48000) {
            Signal both;
            for (const float sample : side) both.insert(both.end(), {sample, -sample});
            if (!kiai::write_wav(folder / file, both, rate).empty()) std::abort();
        };
        stereo("a.wav", noise(0.3, 4800, 1));
        stereo("b.wav", sine(700, 0.3, 3000));
        stereo("c.wav", noise(0.2, 7000, 3), 44100);
        stereo("long.wav", noise(0.1, 300000, 4));
        std::ofstream toml(folder / "kiai.toml");
        toml << "format = 1" << bench << bindings();
        if (state == 1)
            toml << "[sound.new]\ntakes = [\"a-3\"]\n[[binding]]\ntrigger = { notice = \"n\" }\naction = { play = "
                    "\"new\" }\n";
        toml.close();
        const kiai::LoadResult loaded = kiai::load_project(folder);
        for (const kiai::Finding& finding : loaded.findings)
            if (finding.severity == kiai::Severity::error) std::cerr << finding << '\n';
        if (!loaded.ok()) std::abort();
        projects_[state] = loaded.project;
    }
}

StormProject::~StormProject() {
    std::error_code error;
    std::filesystem::remove_all(folder_, error);
}

namespace {

/// Halves the level and adds a short echo; sometimes it misbehaves.
class Effect : public kiai::Insert {
  public:
    explicit Effect(int fails_at) : fails_at_(fails_at) {}
    void prepare(int, int most) override { last_.resize(static_cast<std::size_t>(most)); }
    void process(std::span<float> left, std::span<float> right) override {
        if (++calls_ == fails_at_) left[0] = std::numeric_limits<float>::infinity();
        for (std::size_t i = 0; i < left.size(); ++i) {
            left[i] = 0.5f * left[i] + 0.2f * last_[i];
            right[i] = 0.5f * right[i];
            last_[i] = left[i];
        }
    }
    void reset() override { std::fill(last_.begin(), last_.end(), 0.0f); }
    kiai::Seconds tail() const override { return kiai::Seconds(0.05); }

  private:
    int fails_at_, calls_ = 0;
    std::vector<float> last_;
};

/// Queries, crossfades, and settings of a bus.
void ask_or_cross(kiai::Engine& engine, std::uint64_t chance, float part, std::vector<kiai::Play>& plays) {
    const char* const sounds[] = {"hum", "far", "pile", "knock", "nobody-knows-it"};
    const char* const to = sounds[(chance >> 24) % 5];
    if (part < 0.3f) {
        engine.dial("fill"), engine.scope("bench"), engine.zone("lid"), engine.load();
        for (const kiai::PlayingNow& one : engine.plays())
            if (one.number == 0 || one.sound.empty()) std::abort();
        return;
    }
    if (part < 0.5f) {
        engine.set_insert(part < 0.4f ? "low" : "main",
                          (chance >> 28) % 3 == 0 ? nullptr
                                                  : std::make_shared<Effect>(static_cast<int>(chance >> 30 & 63)));
        return;
    }
    const kiai::PlayOptions options{
        .loop = static_cast<int>(chance >> 32 & 3), .bus = part < 0.8f ? "low" : "calls", .at = engine.now() + 50};
    if (part < 0.7f)
        plays.push_back(engine.crossfade("hum", to, kiai::Seconds(part / 10), options));
    else if (part < 0.85f && !plays.empty())
        plays.push_back(engine.crossfade(plays.front(), to, kiai::Seconds(part / 10)));
    else
        plays.push_back(engine.play(to, options));
}

} // namespace

void do_something(kiai::Engine& engine, std::uint64_t chance, std::vector<kiai::Play>& plays) {
    const auto part = static_cast<float>(chance >> 40) / static_cast<float>(1 << 24);
    const std::uint64_t pointer = chance >> 8 & 3;
    const kiai::Point point{part * 120, part * 110};
    const std::uint64_t pair = (chance >> 16 & 31) + 1;
    static constexpr std::array notices{"more", "quiet", "loud", "still", "on", "n", "nobody-knows-it"};
    switch (chance % 36) {
    case 0:
        return engine.press(point, pointer);
    case 1:
        return engine.release(pointer);
    case 2:
        return engine.pointer(point, pointer);
    case 3:
        return engine.pointer_gone(pointer);
    case 4:
        return engine.key_down("KeyT");
    case 5:
        return engine.key_up("KeyT");
    case 6:
    case 7:
        return engine.contact("x", "y", {.strength = part, .place = part, .pair = pair});
    case 8:
        return engine.contact_end(pair);
    case 9:
        return engine.body(pair, part < 0.5f ? "x" : "y", point, 10);
    case 10:
        return engine.body_gone(pair);
    case 11:
        return engine.notice(notices[chance >> 20 & 3], {{"speed", part}});
    case 12:
        return engine.notice(notices[4 + (chance >> 20) % 3]);
    case 13:
        return engine.playhead("wheel", part * 60, static_cast<int>(pointer));
    case 14:
        return engine.playhead_gone("wheel", static_cast<int>(pointer));
    case 15:
    case 16:
        return engine.set_dial(part < 0.5f ? "fill" : "stock", part);
    case 17:
        return engine.enter_scope(part < 0.6f ? "bench" : "drawer");
    case 18:
        return engine.leave_scope(part < 0.3f ? "bench" : "drawer");
    case 19:
        return engine.pause_scope("bench");
    case 20:
        return engine.resume_scope("bench");
    case 21:
        return engine.move_zone("lid", point, 0.5f + part);
    case 22:
        return engine.remove_zone("lid");
    case 23:
        return engine.input_lost();
    case 24: {
        const kiai::Target targets[] = {"hum",
                                        "far",
                                        kiai::Target::bus("deep"),
                                        kiai::Target::scope("bench"),
                                        kiai::Target::sequence("finish"),
                                        kiai::Target::everything()};
        const kiai::Target& target = targets[(chance >> 20) % 6];
        if (part < 0.2f) return engine.stop(target);
        if (part < 0.4f) return engine.stop(target, kiai::Seconds(part / 10));
        if (part < 0.6f) return engine.pause(target);
        if (part < 0.8f) return engine.resume(target);
        return engine.restart(target);
    }
    case 25:
        return engine.toggle("hum");
    case 26:
        return engine.pause("knock");
    case 27:
        return engine.resume("knock");
    case 28:
        return engine.run("finish");
    case 29:
        return engine.set_bus_gain("low", -12 * part);
    case 30:
        return engine.mute_bus("low", part < 0.2f);
    case 31:
        plays.push_back(engine.play(part < 0.4f   ? "hum"
                                    : part < 0.6f ? "far"
                                                  : "pile",
                                    {.gain = -20 * part,
                                     .pitch = 12 * part - 6,
                                     .fade_in = kiai::Seconds(part / 20),
                                     .start = kiai::Seconds(part / 10),
                                     .length = kiai::Seconds(part > 0.8f ? 0.1 : 0)}));
        return;
    case 32:
        plays.push_back(engine.play("knock", {.delay = kiai::Seconds(part / 10)}));
        return;
    default:
        break;
    }
    if ((chance >> 20) % 4 == 0) return ask_or_cross(engine, chance, part, plays);
    if (plays.empty()) return;
    kiai::Play& play = plays.back();
    if (part < 0.1f) return play.set("speed", part * 10);
    if (part < 0.2f) return play.seek(kiai::Seconds(part * 5 - 0.5f));
    if (part < 0.3f) return play.set_gain(-part * 20, kiai::Seconds(part / 10));
    if (part < 0.35f) return play.set_pitch(part * 40 - 13, kiai::Seconds(part / 10));
    if (part < 0.4f) return play.set_pan(part * 20 - 7);
    if (part < 0.5f) return play.pause();
    if (part < 0.6f) return play.resume();
    if (part < 0.8f) play.stop(kiai::Seconds(part / 20));
    if (plays.size() > 200 || part > 0.7f) plays.pop_back();
}

Storm::Storm(kiai::Engine& engine, const StormProject& project, int callers, int calls) : calling_(callers) {
    for (int number = 0; number < callers; ++number)
        threads_.emplace_back([this, &engine, number, calls] {
            std::vector<kiai::Play> plays;
            std::uint64_t chance = static_cast<std::uint64_t>(number) * 0x9e3779b97f4a7c15u + 1;
            for (int i = 0; i < calls; ++i) {
                for (const kiai::Frames next = engine.now() + 128; i % 16 == 0 && engine.now() < next;)
                    std::this_thread::yield();
                chance ^= chance << 13, chance ^= chance >> 7, chance ^= chance << 17; // Marsaglia's xorshift
                do_something(engine, chance, plays);
            }
            --calling_;
        });
    threads_.emplace_back([this, &engine, &project] {
        std::vector<kiai::PlayLevel> levels(256);
        for (int i = 0; calling_ > 0; ++i) {
            if (i % 10 == 0) {
                engine.set_project(i / 10 % 2 == 0 ? project.second() : project.first());
                ++changes_;
            }
            engine.poll();
            engine.read_levels(levels);
            std::this_thread::yield();
        }
    });
}

Storm::~Storm() {
    for (std::thread& thread : threads_) thread.join();
}

} // namespace support
