// Random histories of everything that an app reports, several reports per block. They are compared with a model,
// written from the documentation alone, of what must be held. Nothing is wound down at the end, so that hanging plays
// are found.
#include "support/project_folder.h"

#include <kiai/engine.h>

#include <catch2/catch.hpp>

#include <algorithm>
#include <array>
#include <functional>
#include <map>
#include <optional>
#include <random>
#include <set>
#include <sstream>
#include <string>
#include <vector>

using namespace support;

namespace {

enum class Op {
    press,
    release,
    pointer,
    pointer_gone,
    key_down,
    key_up,
    contact,
    apart,
    body,
    body_gone,
    enter,
    leave,
    pause,
    resume,
    dial,
    zone_gone,
    zone_back,
    input_lost,
    click,
    key_tap,
    brief_contact, ///< begins and ends at once
    count
};

struct Report {
    Op op = Op::press;
    int which = 0; ///< pointer, key, pair, body
    int where = 0; ///< place, or dial in tenths
    bool ends_block = false;
};
using History = std::vector<Report>;

constexpr int pointers = 3, keys = 3, pairs = 5, bodies = 3;
// In zone `fixed`, in zone `scoped`, in the overlap of both (scoped is in front), and nowhere.
constexpr std::array<kiai::Point, 4> places{{{5, 5}, {25, 5}, {15, 5}, {200, 200}}};
const std::array<const char*, keys> codes{"KeyA", "KeyB", "Space"};

const char* const project_text = R"(
[dial.level]
[scope.room]
fade = "10 ms"
[zone.fixed]
rectangle = { x = 0, y = 0, width = 20, height = 10 }
[zone.scoped]
rectangle = { x = 10, y = 0, width = 20, height = 10 }
order = 1
scope = "room"
[sound.hum]
takes = ["tone"]
loop = true
limit = { plays = 1000 }
[[binding]]
trigger = { press = "fixed" }
action = { hold = "hum" }
[[binding]]
trigger = { press = "scoped" }
action = { hold = "hum" }
[[binding]]
trigger = { enter = "fixed" }
action = { hold = "hum" }
[[binding]]
trigger = { enter = "scoped" }
action = { hold = "hum" }
[[binding]]
trigger = { key-down = "KeyA" }
action = { hold = "hum" }
[[binding]]
trigger = { key-down = "KeyB" }
action = { hold = "hum" }
[[binding]]
trigger = { key-down = "Space" }
action = { hold = "hum" }
[[binding]]
trigger = { contact = ["ball", "plate"] }
action = { hold = "hum" }
[[binding]]
trigger = { contact = ["disc", "disc"] }
action = { hold = "hum" }
[[binding]]
trigger = { scope-enter = "room" }
action = { hold = "hum" }
[[binding]]
trigger = { watch = "level > 0.5" }
action = { hold = "hum" }
)";

/// What must be held: each member of these sets holds one loop.
class Model {
  public:
    void take(const Report& report) {
        switch (report.op) {
        case Op::press:
            press(report.which, report.where);
            break;
        case Op::release:
            release(report.which);
            break;
        case Op::click:
            if (down_.count(report.which) == 0) press(report.which, report.where);
            release(report.which);
            break;
        case Op::pointer:
            at_[report.which] = report.where;
            break;
        case Op::pointer_gone:
            release(report.which);
            at_.erase(report.which);
            break;
        case Op::key_down:
            keys_.insert(report.which);
            break;
        case Op::key_up:
        case Op::key_tap:
            keys_.erase(report.which);
            break;
        case Op::contact:
            touching_.insert(report.which);
            break;
        case Op::apart:
        case Op::brief_contact:
            touching_.erase(report.which);
            break;
        case Op::body:
            body_[report.which] = report.where;
            break;
        case Op::body_gone:
            body_.erase(report.which);
            break;
        case Op::enter:
            room_ = true;
            break;
        case Op::leave:
            room_ = false;
            break;
        case Op::dial:
            level_ = report.where;
            break;
        case Op::zone_gone:
            fixed_ = false;
            break;
        case Op::zone_back:
            fixed_ = true;
            break;
        case Op::input_lost:
            down_.clear();
            at_.clear();
            keys_.clear();
            touching_.clear();
            break;
        case Op::pause:
        case Op::resume:
        case Op::count:
            break;
        }
        // A press on a removed zone is over, although the pointer stays down.
        for (auto& [pointer, zone] : down_)
            if (zone && !there(*zone)) zone.reset();
    }
    int held() const {
        int count = static_cast<int>(keys_.size() + touching_.size()) + (room_ ? 1 : 0) + (level_ > 5 ? 1 : 0);
        for (const auto& [pointer, zone] : down_) count += zone ? 1 : 0;
        for (const auto& [pointer, place] : at_) count += zone_at(place) ? 1 : 0;
        for (auto a = body_.begin(); a != body_.end(); ++a) // discs touch where they are at the same place
            for (auto b = std::next(a); b != body_.end(); ++b) count += a->second == b->second ? 1 : 0;
        return count;
    }

  private:
    enum class Zone { fixed, scoped };
    bool there(Zone zone) const { return zone == Zone::fixed ? fixed_ : room_; }
    std::optional<Zone> zone_at(int place) const {
        const bool in_fixed = place == 0 || place == 2, in_scoped = place == 1 || place == 2;
        if (in_scoped && room_) return Zone::scoped;
        if (in_fixed && fixed_) return Zone::fixed;
        return std::nullopt;
    }
    void press(int pointer, int place) {
        if (down_.count(pointer) != 0) return; // already pressed: no effect, and no move
        at_[pointer] = place;
        down_[pointer] = zone_at(place);
    }
    void release(int pointer) { down_.erase(pointer); }

    std::map<int, int> at_;                   ///< pointers that are somewhere
    std::map<int, std::optional<Zone>> down_; ///< pointers that are pressed, and on what
    std::set<int> keys_, touching_;
    std::map<int, int> body_;
    bool room_ = false, fixed_ = true;
    int level_ = 0;
};

void make(kiai::Engine& engine, const Report& report) {
    const auto pointer = 1000 * static_cast<std::uint64_t>(report.which) + (std::uint64_t{1} << 40); // as systems give
    const auto pair = static_cast<std::uint64_t>(report.which) + 1;
    const kiai::Point place = places[static_cast<std::size_t>(report.where) % places.size()];
    switch (report.op) {
    case Op::press:
        return engine.press(place, pointer);
    case Op::release:
        return engine.release(pointer);
    case Op::click:
        return engine.click(place, pointer);
    case Op::pointer:
        return engine.pointer(place, pointer);
    case Op::pointer_gone:
        return engine.pointer_gone(pointer);
    case Op::key_down:
        return engine.key_down(codes[static_cast<std::size_t>(report.which)]);
    case Op::key_up:
        return engine.key_up(codes[static_cast<std::size_t>(report.which)]);
    case Op::key_tap:
        return engine.key_tap(codes[static_cast<std::size_t>(report.which)]);
    case Op::contact:
        return engine.contact("plate", "ball", {.strength = static_cast<float>(report.where), .pair = pair});
    case Op::brief_contact:
        engine.contact("ball", "plate", {.strength = static_cast<float>(report.where), .pair = pair});
        return engine.contact_end(pair);
    case Op::apart:
        return engine.contact_end(pair);
    case Op::body:
        return engine.body(pair, "disc", {100.0f * static_cast<float>(report.where), 0}, 1);
    case Op::body_gone:
        return engine.body_gone(pair);
    case Op::enter:
        return engine.enter_scope("room");
    case Op::leave:
        return engine.leave_scope("room");
    case Op::pause:
        return engine.pause_scope("room");
    case Op::resume:
        return engine.resume_scope("room");
    case Op::dial:
        return engine.set_dial("level", static_cast<float>(report.where) / 10);
    case Op::zone_gone:
        return engine.remove_zone("fixed");
    case Op::zone_back:
        return engine.move_zone("fixed", {10, 5});
    case Op::input_lost:
        return engine.input_lost();
    case Op::count:
        return;
    }
}

std::string words(const History& history) {
    static constexpr std::array<const char*, static_cast<std::size_t>(Op::count)> names{
        "press",       "release",   "pointer",   "pointer-gone", "key-down", "key-up",  "contact",
        "contact-end", "body",      "body-gone", "enter",        "leave",    "pause",   "resume",
        "dial",        "zone-gone", "zone-back", "input-lost",   "click",    "key-tap", "brief-contact"};
    std::ostringstream text;
    for (const Report& report : history)
        text << names[static_cast<std::size_t>(report.op)] << ' ' << report.which << ' ' << report.where
             << (report.ends_block ? " | " : ", ");
    return text.str();
}

History random_history(std::mt19937& random, std::size_t length) {
    const auto below = [&](int count) { return static_cast<int>(random() % static_cast<unsigned>(count)); };
    History history;
    for (std::size_t i = 0; i < length; ++i) {
        Report report;
        report.op = static_cast<Op>(below(static_cast<int>(Op::count)));
        if (report.op == Op::input_lost && below(4) != 0) report.op = Op::contact;
        report.which = below(report.op == Op::contact || report.op == Op::apart || report.op == Op::brief_contact
                                 ? pairs
                                 : std::min({pointers, keys, bodies}));
        report.where = below(report.op == Op::dial ? 11 : static_cast<int>(places.size()));
        report.ends_block = below(3) == 0;
        history.push_back(report);
    }
    return history;
}

/// Returns the first difference from the model after a block; empty if there is none.
std::string disagreement(const kiai::Project& project, const History& history) {
    kiai::Engine engine(project, {.seed = 1, .voices = 256});
    engine.set_log([](const kiai::Decision&) {});
    engine.set_findings([](const kiai::Finding&) {});
    Model model;
    std::array<float, 2 * 96> out{};
    for (std::size_t i = 0; i < history.size(); ++i) {
        make(engine, history[i]);
        model.take(history[i]);
        if (!history[i].ends_block && i + 1 < history.size()) continue;
        engine.render(out);
        engine.poll();
        if (engine.looping() != model.held())
            return "after report " + std::to_string(i + 1) + ": " + std::to_string(engine.looping()) +
                   " held, expected " + std::to_string(model.held());
    }
    return {};
}

/// Returns the same history without the reports that are not needed for the failure.
History shortest(const kiai::Project& project, History history) {
    for (std::size_t size = history.size() / 2; size > 0;) {
        bool shorter = false;
        for (std::size_t from = 0; from < history.size();) {
            History tried = history;
            tried.erase(tried.begin() + static_cast<std::ptrdiff_t>(from),
                        tried.begin() + static_cast<std::ptrdiff_t>(std::min(from + size, tried.size())));
            if (!disagreement(project, tried).empty()) {
                history = std::move(tried);
                shorter = true;
            } else {
                from += size;
            }
        }
        if (!shorter || size > 1) size /= 2;
    }
    return history;
}

} // namespace

TEST_CASE("Whatever is reported in whatever order, what is held is what must be held", "[model]") {
    const kiai::Project project = project_of(Signal(400, 0.01f), project_text);
    std::mt19937 random(20261127);
    for (int turn = 0; turn < 300; ++turn) {
        const History history = random_history(random, 120);
        const std::string found = disagreement(project, history);
        if (found.empty()) continue;
        const History least = shortest(project, history);
        FAIL("history " << turn << ": " << disagreement(project, least) << "\n" << words(least));
    }
}

TEST_CASE("The model is not always right: it finds a held loop that nobody ends", "[model]") {
    // The engine gets one report less than the model.
    const kiai::Project project = project_of(Signal(400, 0.01f), project_text);
    History history;
    history.push_back({Op::contact, 0, 1, true});
    history.push_back({Op::contact, 1, 1, true});
    CHECK(disagreement(project, history).empty());
    kiai::Engine engine(project, {.seed = 1});
    engine.set_log([](const kiai::Decision&) {});
    Model model;
    for (const Report& report : history) model.take(report);
    make(engine, history[0]);
    static_cast<void>(render(engine, 96));
    CHECK(engine.looping() != model.held());
}
