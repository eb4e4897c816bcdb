#include "script.h"

#include "sound.h"

#include <cmath>
#include <vector>

void Hands::press(Place at) {
    sound_.engine().press({at.x, at.y});
    pressed(at);
}

void Hands::release() {
    sound_.engine().release();
    released();
}

void Hands::move(Place at) {
    sound_.engine().pointer({at.x, at.y});
}

void Hands::gone() {
    sound_.engine().pointer_gone();
}

void Hands::key(const std::string& code, bool down) {
    if (down) {
        if (code != "Tab") sound_.engine().key_down(code); // the drawer is the app's own
        key_went_down(code);
    } else if (code != "Tab") {
        sound_.engine().key_up(code);
    }
}

void Hands::lost() {
    sound_.engine().input_lost();
    released();
}

void Hands::pressed(Place at) {
    if (drawer_) { // as the bindings of the boxes do for the sound of it
        for (int piece = 1; piece <= 3; ++piece)
            if (at.x >= 40 + 140 * static_cast<float>(piece) && at.x < 160 + 140 * static_cast<float>(piece) &&
                at.y >= 240 && at.y < 360)
                bench_.set_piece(piece);
        return;
    }
    if (std::hypot(at.x - 120, at.y - 80) <= 40) bench_.drop();
    if (at.x >= 560 && at.x < 620 && at.y >= 120 && at.y < 500) bench_.hold_lift(true);
}

void Hands::key_went_down(const std::string& code) {
    if (code == "Space" && !drawer_) bench_.drop();
    if (code == "KeyT" && !drawer_) bench_.tilt();
    if (code.starts_with("Digit") && code[5] >= '1' && code[5] <= '3') bench_.set_piece(code[5] - '0');
    if (code == "Tab") {
        drawer_ = !drawer_;
        bench_.hold_lift(false);
        sound_.open_drawer(drawer_);
    }
}

namespace {

constexpr Place hopper{118, 82}, lift{590, 300}, tray{300, 545}, lamp{452, 548}, brass_box{380, 300},
    glass_box{520, 300}, beside{720, 560}, over_funnel{430, 330};

struct Deed {
    double at; ///< seconds
    enum Kind { press, release, down, up } kind;
    Place place{};
    const char* key = "";
};

/// Returns the scripted presses and keys, each with its end.
std::vector<Deed> deeds() {
    std::vector<Deed> all;
    const auto press = [&](double at, Place place, double held = 0.1) {
        all.push_back({at, Deed::press, place});
        all.push_back({at + held, Deed::release});
    };
    const auto key = [&](double at, const char* code) {
        all.push_back({at, Deed::down, {}, code});
        all.push_back({at + 0.1, Deed::up, {}, code});
    };
    press(0.5, hopper);
    press(3.2, hopper);
    key(5, "Space");
    press(8.8, lift, 2.4); // the three of them go up again
    key(11.5, "Digit2");
    for (const double at : {11.8, 12.3, 12.8, 13.3, 13.7, 14.1, 14.5}) press(at, hopper);
    key(12.2, "KeyT");
    key(12.5, "KeyT");   // while the first still groans
    press(15.2, hopper); // it is empty
    press(18.4, beside); // no zone is there
    press(19.6, tray);
    press(20.4, lamp); // in front of the tray
    key(21.4, "KeyT"); // the marbles roll about in the tray
    press(22.2, lift, 3.9);
    key(26.3, "Space");
    press(26.6, lift, 1); // held as the bench is left, while a marble rolls
    key(27.2, "Tab");
    press(28.1, brass_box);
    press(28.6, glass_box);
    return all;
}

} // namespace

void follow_script(Hands& hands, int step) {
    static const std::vector<Deed> all = deeds();
    for (const Deed& deed : all) {
        if (step != static_cast<int>(std::lround(deed.at / Bench::step_seconds))) continue;
        if (deed.kind == Deed::press) hands.press(deed.place);
        if (deed.kind == Deed::release) hands.release();
        if (deed.kind == Deed::down || deed.kind == Deed::up) hands.key(deed.key, deed.kind == Deed::down);
    }
    constexpr int begin = 72, steps = 84; // over the chute to the funnel
    if (step < begin || step > begin + steps) return;
    const float way = static_cast<float>(step - begin) / steps;
    hands.move({hopper.x + (over_funnel.x - hopper.x) * way, hopper.y + (over_funnel.y - hopper.y) * way});
}
