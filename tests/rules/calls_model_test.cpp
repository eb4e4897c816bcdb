// Random histories of calls on plays, sounds, buses and scopes, several per block. They are compared with a model,
// written from the public headers alone, of which plays must sound and which must be paused.
#include "support/project_folder.h"

#include <kiai/engine.h>

#include <catch2/catch.hpp>

#include <algorithm>
#include <array>
#include <map>
#include <random>
#include <sstream>
#include <string>
#include <vector>

using namespace support;
using namespace std::chrono_literals;

namespace {

enum class Op {
    play,
    play_on_bus,
    play_in_room,
    play_later,
    play_stop,
    play_fade,
    play_pause,
    play_resume,
    play_moved, ///< its gain, pitch, pan, place and value, which change nothing of what the model knows
    stop_sound,
    stop_bus,
    stop_room,
    stop_all,
    pause_sound,
    pause_bus,
    pause_room,
    pause_all,
    resume_sound,
    resume_bus,
    resume_room,
    resume_all,
    restart_sound,
    restart_bus,
    restart_room,
    toggle,
    crossfade,
    crossfade_play,
    bus_moved, ///< its gain, and muted or not
    enter,
    leave,
    count
};

struct Call {
    Op op = Op::play;
    int slot = 0;  ///< of a handle
    int sound = 0; ///< which, and for a crossfade the other one
    int bus = 0;
    bool ends_block = false;
};
using Calls = std::vector<Call>;

constexpr int slots = 4;
const std::array<std::string, 3> sounds{"hum", "buzz", "drone"}, buses{"upper", "lower", "main"};

// `lower` goes into `upper`. A stopped play ends within a block of 1,024 frames.
const char* const project_text = R"(
[bus.upper]
[bus.lower]
into = "upper"
[scope.room]
fade = "6 ms"
[sound.hum]
takes = ["tone"]
loop = true
fade-out = "6 ms"
bus = "upper"
limit = { plays = 1000 }
follow = [{ value = "own", target = "gain", curve = [[0, 0], [1, -6]] }]
[sound.buzz]
takes = ["tone"]
loop = true
fade-out = "6 ms"
bus = "lower"
limit = { plays = 1000 }
[sound.drone]
takes = ["tone"]
loop = true
fade-out = "6 ms"
limit = { plays = 1000 }
)";

struct Expected {
    int sound = 0, bus = 0;
    bool in_room = false;
    bool paused = false, paused_by_room = false;
    bool later = false; ///< requested, and not started

    std::string words() const {
        return sounds[static_cast<std::size_t>(sound)] + " on " + buses[static_cast<std::size_t>(bus)] +
               (in_room ? " in room" : "") + (paused || paused_by_room ? " paused" : "");
    }
};

class Model {
  public:
    void take(const Call& call) {
        const auto of_sound = [&](const Expected& one) { return one.sound == call.sound; };
        const auto on_bus = [&](const Expected& one) { return within(one.bus, call.bus); };
        const auto of_room = [](const Expected& one) { return one.in_room; };
        const auto all = [](const Expected&) { return true; };
        switch (call.op) {
        case Op::play:
            return begin(call.slot, {.sound = call.sound, .bus = own_bus(call.sound)});
        case Op::play_on_bus:
            return begin(call.slot, {.sound = call.sound, .bus = call.bus});
        case Op::play_in_room:
            forget(call.slot);
            if (room_ && !room_paused_)
                begin(call.slot, {.sound = call.sound, .bus = own_bus(call.sound), .in_room = true});
            return;
        case Op::play_later:
            return begin(call.slot, {.sound = call.sound, .bus = own_bus(call.sound), .later = true});
        case Op::play_stop:
        case Op::play_fade:
            if (handles_.count(call.slot) != 0) plays_.erase(handles_[call.slot]);
            return forget(call.slot);
        case Op::play_pause:
        case Op::play_resume:
            if (handles_.count(call.slot) != 0 && plays_.count(handles_[call.slot]) != 0)
                if (Expected& one = plays_[handles_[call.slot]]; !one.later) one.paused = call.op == Op::play_pause;
            return;
        case Op::stop_sound:
            return end(of_sound);
        case Op::stop_bus:
            return end(on_bus);
        case Op::stop_room:
            return end(of_room);
        case Op::stop_all:
            return end(all);
        case Op::pause_sound:
        case Op::resume_sound:
            return pause(of_sound, call.op == Op::pause_sound);
        case Op::pause_bus:
        case Op::resume_bus:
            return pause(on_bus, call.op == Op::pause_bus);
        case Op::pause_all:
        case Op::resume_all:
            return pause(all, call.op == Op::pause_all);
        case Op::pause_room:
        case Op::resume_room:
            if (!room_) return;
            room_paused_ = call.op == Op::pause_room;
            for (auto& [number, one] : plays_)
                if (one.in_room) one.paused_by_room = room_paused_;
            return;
        case Op::restart_sound:
            if (!restart(of_sound)) begin(-1, {.sound = call.sound, .bus = own_bus(call.sound)});
            return;
        case Op::restart_bus:
            restart(on_bus);
            return;
        case Op::restart_room:
            leave();
            room_ = true;
            return;
        case Op::toggle:
            if (std::any_of(plays_.begin(), plays_.end(),
                            [&](const auto& one) { return one.second.sound == call.sound && !one.second.later; }))
                return end(of_sound);
            return begin(-1, {.sound = call.sound, .bus = own_bus(call.sound)});
        case Op::crossfade:
            end(on_bus);
            return begin(call.slot, {.sound = call.sound, .bus = own_bus(call.sound)});
        case Op::crossfade_play:
            if (handles_.count(call.slot) != 0) plays_.erase(handles_[call.slot]);
            return begin(call.slot, {.sound = call.sound, .bus = own_bus(call.sound)});
        case Op::enter:
            room_ = true;
            return;
        case Op::leave:
            return leave();
        case Op::play_moved:
        case Op::bus_moved:
        case Op::count:
            return;
        }
    }
    /// Returns the names of what must sound, each as often as it does.
    std::vector<std::string> sounding() const {
        std::vector<std::string> all;
        for (const auto& [number, one] : plays_)
            if (!one.later) all.push_back(one.words());
        std::sort(all.begin(), all.end());
        return all;
    }
    kiai::PlayState state(int slot) const {
        const auto handle = handles_.find(slot);
        const auto play = handle == handles_.end() ? plays_.end() : plays_.find(handle->second);
        if (play == plays_.end()) return kiai::PlayState::ended;
        const Expected& one = play->second;
        return one.later                          ? kiai::PlayState::asked
               : one.paused || one.paused_by_room ? kiai::PlayState::paused
                                                  : kiai::PlayState::playing;
    }

  private:
    static int own_bus(int sound) { return sound; }
    static bool within(int bus, int of) { return of == 2 || bus == of || (bus == 1 && of == 0); }
    void forget(int slot) { handles_.erase(slot); }
    void begin(int slot, const Expected& play) {
        plays_[++number_] = play;
        if (slot >= 0) handles_[slot] = number_;
    }
    template<class Which>
    void end(const Which& which) {
        std::erase_if(plays_, [&](const auto& one) { return !one.second.later && which(one.second); });
    }
    template<class Which>
    void pause(const Which& which, bool on) {
        for (auto& [number, one] : plays_)
            if (!one.later && which(one)) one.paused = on;
    }
    void leave() {
        end([](const Expected& one) { return one.in_room; });
        room_ = room_paused_ = false;
    }
    /// Each sound starts again where its newest play was, unless its scope is paused.
    template<class Which>
    bool restart(const Which& which) {
        std::map<int, Expected> again; // by sounds
        for (const auto& [number, one] : plays_)
            if (!one.later && which(one)) again[one.sound] = one;
        end(which);
        for (const auto& [sound, newest] : again)
            if (!newest.in_room || !room_paused_)
                begin(-1, {.sound = sound, .bus = newest.bus, .in_room = newest.in_room});
        return !again.empty();
    }

    std::map<int, Expected> plays_; ///< by numbers, in the order of their beginnings
    std::map<int, int> handles_;    ///< slots, and the numbers of their plays
    int number_ = 0;
    bool room_ = false, room_paused_ = false;
};

/// An app with a few handles.
class App {
  public:
    explicit App(const kiai::Project& project) : engine_(project, {.seed = 1, .voices = 1024}) {
        engine_.set_log([](const kiai::Decision&) {});
        engine_.set_findings([](const kiai::Finding&) {});
    }
    void make(const Call& call) {
        kiai::Play& play = plays_[static_cast<std::size_t>(call.slot)];
        const std::string &sound = sounds[static_cast<std::size_t>(call.sound)],
                          &bus = buses[static_cast<std::size_t>(call.bus)];
        using kiai::Target;
        switch (call.op) {
        case Op::play:
            play = engine_.play(sound);
            return;
        case Op::play_on_bus:
            play = engine_.play(sound, {.bus = bus});
            return;
        case Op::play_in_room:
            play = engine_.play(sound, {}, "room");
            return;
        case Op::play_later:
            play = engine_.play(sound, {.delay = 100s});
            return;
        case Op::play_stop:
            return play.stop();
        case Op::play_fade:
            return play.stop(6ms);
        case Op::play_pause:
            return play.pause();
        case Op::play_resume:
            return play.resume();
        case Op::play_moved:
            play.set_gain(-3);
            play.set_pitch(2);
            play.set_pan(0.5f);
            play.set("own", 0.5f);
            return play.seek(3ms);
        case Op::stop_sound:
            return engine_.stop(sound);
        case Op::stop_bus:
            return engine_.stop(Target::bus(bus), 6ms);
        case Op::stop_room:
            return engine_.stop(Target::scope("room"));
        case Op::stop_all:
            return engine_.stop(Target::everything());
        case Op::pause_sound:
            return engine_.pause(sound);
        case Op::pause_bus:
            return engine_.pause(Target::bus(bus));
        case Op::pause_room:
            return engine_.pause(Target::scope("room"));
        case Op::pause_all:
            return engine_.pause(Target::everything());
        case Op::resume_sound:
            return engine_.resume(sound);
        case Op::resume_bus:
            return engine_.resume(Target::bus(bus));
        case Op::resume_room:
            return engine_.resume(Target::scope("room"));
        case Op::resume_all:
            return engine_.resume(Target::everything());
        case Op::restart_sound:
            return engine_.restart(sound);
        case Op::restart_bus:
            return engine_.restart(Target::bus(bus));
        case Op::restart_room:
            return engine_.restart(Target::scope("room"));
        case Op::toggle:
            return engine_.toggle(sound);
        case Op::crossfade:
            play = engine_.crossfade(Target::bus(bus), sound, 10ms);
            return;
        case Op::crossfade_play:
            play = engine_.crossfade(play, sound, 10ms);
            return;
        case Op::bus_moved:
            engine_.set_bus_gain(bus, -6);
            return engine_.mute_bus(bus, call.slot % 2 == 0);
        case Op::enter:
            return engine_.enter_scope("room");
        case Op::leave:
            return engine_.leave_scope("room");
        case Op::count:
            return;
        }
    }
    void render() {
        static_cast<void>(support::render(engine_, 1024));
        engine_.poll();
    }
    std::vector<std::string> sounding() const {
        std::vector<std::string> all;
        for (const kiai::PlayingNow& one : engine_.plays())
            all.push_back(one.sound + " on " + one.bus + (one.scope.empty() ? "" : " in " + one.scope) +
                          (one.state == kiai::PlayState::playing ? "" : std::string(" ") + to_string(one.state)));
        std::sort(all.begin(), all.end());
        return all;
    }
    kiai::PlayState state(int slot) const { return plays_[static_cast<std::size_t>(slot)].state(); }

  private:
    kiai::Engine engine_;
    std::array<kiai::Play, slots> plays_;
};

/// Returns the first difference from the model after a block; empty if there is none.
std::string disagreement(const kiai::Project& project, const Calls& calls) {
    App app(project);
    Model model;
    for (std::size_t i = 0; i < calls.size(); ++i) {
        app.make(calls[i]);
        model.take(calls[i]);
        if (!calls[i].ends_block && i + 1 < calls.size()) continue;
        app.render();
        std::ostringstream wrong;
        if (const auto is = app.sounding(), must = model.sounding(); is != must) {
            wrong << "sounding:";
            for (const std::string& one : is) wrong << " [" << one << ']';
            wrong << ", expected:";
            for (const std::string& one : must) wrong << " [" << one << ']';
        }
        for (int slot = 0; slot < slots; ++slot)
            if (app.state(slot) != model.state(slot))
                wrong << " handle " << slot << " is " << to_string(app.state(slot)) << ", expected "
                      << to_string(model.state(slot));
        if (!wrong.str().empty()) return "after call " + std::to_string(i + 1) + ": " + wrong.str();
    }
    return {};
}

Calls random_calls(std::mt19937& random, std::size_t length) {
    const auto below = [&](int count) { return static_cast<int>(random() % static_cast<unsigned>(count)); };
    Calls calls;
    for (std::size_t i = 0; i < length; ++i) {
        Call call{static_cast<Op>(below(static_cast<int>(Op::count))), below(slots), below(3), below(3), below(3) == 0};
        if (call.op == Op::stop_all && below(3) != 0) call.op = Op::play; // else there are rarely plays left to call
        calls.push_back(call);
    }
    return calls;
}

/// Returns the same calls without those that are not needed for the failure.
Calls shortest(const kiai::Project& project, Calls calls) {
    for (std::size_t i = 0; i < calls.size();) {
        Calls tried = calls;
        tried.erase(tried.begin() + static_cast<std::ptrdiff_t>(i));
        if (disagreement(project, tried).empty())
            ++i;
        else
            calls = std::move(tried);
    }
    return calls;
}

std::string words(const Calls& calls) {
    std::ostringstream text;
    for (const Call& call : calls)
        text << static_cast<int>(call.op) << " slot " << call.slot << ' '
             << sounds[static_cast<std::size_t>(call.sound)] << ' ' << buses[static_cast<std::size_t>(call.bus)]
             << (call.ends_block ? " | " : ", ");
    return text.str();
}

} // namespace

TEST_CASE("Whatever an app tells plays, sounds, buses and scopes, those sound that must", "[model]") {
    const kiai::Project project = project_of(Signal(4000, 0.01f), project_text);
    std::mt19937 random(20261128);
    for (int turn = 0; turn < 300; ++turn) {
        const Calls calls = random_calls(random, 100);
        if (disagreement(project, calls).empty()) continue;
        const Calls least = shortest(project, calls);
        FAIL("history " << turn << ": " << disagreement(project, least) << "\n" << words(least));
    }
}
