#include "script.h"

#include "sound.h"

#include <cmath>

void Hands::press(Place at) {
    sound_.engine().press({at.x, at.y});
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

void Hands::release() {
    sound_.engine().release();
    bench_.hold_lift(false);
}

void Hands::move(Place at) {
    sound_.engine().pointer({at.x, at.y});
}

void Hands::gone() {
    sound_.engine().pointer_gone();
}

void Hands::key(const std::string& code, bool down) {
    if (!down) {
        if (code != "Tab") sound_.engine().key_up(code);
        return;
    }
    if (code != "Tab") sound_.engine().key_down(code); // the drawer is the app's own
    if (code == "Space" && !drawer_) bench_.drop();
    if (code == "KeyT" && !drawer_) bench_.tilt();
    if (code.starts_with("Digit") && code[5] >= '1' && code[5] <= '3') bench_.set_piece(code[5] - '0');
    if (code == "Tab") {
        drawer_ = !drawer_;
        bench_.hold_lift(false);
        sound_.open_drawer(drawer_);
    }
}

void Hands::lost() {
    sound_.engine().input_lost();
    bench_.hold_lift(false);
}

void follow_script(Hands& hands, int step) {
    constexpr Place hopper{118, 82}, lift{590, 300}, lamp{452, 548}, brass_box{380, 300};
    if (step >= 60 && step < 60 * 14 && step % 54 == 6) hands.press(hopper);
    if (step >= 60 && step < 60 * 14 && step % 54 == 12) hands.release();
    switch (step) {
    case 200:
        return hands.key("KeyT", true);
    case 206:
        return hands.key("KeyT", false);
    case 400:
        return hands.key("Digit2", true);
    case 404:
        return hands.key("Digit2", false);
    case 60 * 16:
        return hands.press(lamp);
    case 60 * 16 + 5:
        return hands.release();
    case 60 * 17:
        return hands.press(lift);
    case 60 * 22:
        return hands.release();
    case 60 * 23:
        return hands.key("Space", true);
    case 60 * 23 + 4:
        return hands.key("Space", false);
    case 60 * 24 + 30:
    case 60 * 27:
        hands.key("Tab", true);
        return hands.key("Tab", false);
    case 60 * 25:
        return hands.press(brass_box);
    case 60 * 25 + 5:
        return hands.release();
    default:
        if (step > 60 * 14 && step < 60 * 16) // over the chute and away
            hands.move({200 + static_cast<float>(step - 60 * 14), 130 + static_cast<float>(step - 60 * 14)});
    }
}
