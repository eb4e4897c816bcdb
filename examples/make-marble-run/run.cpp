#include "run.h"

#include "struck.h"

#include <algorithm>
#include <cstdio>
#include <ostream>
#include <string>
#include <utility>

namespace bench {
namespace {

class Run {
  public:
    void report(double at, const std::string& what) { lines_.emplace_back(at, what); }

    void press(double at, int x, int y, double held) {
        report(at, "\"press\": [" + std::to_string(x) + ", " + std::to_string(y) + "]");
        report(at + held, "\"release\": 0");
    }
    void key(double at, const std::string& code) {
        report(at, "\"key-down\": \"" + code + "\"");
        report(at + 0.09, "\"key-up\": \"" + code + "\"");
    }
    void contact(double at, const char* piece, double strength, double place) {
        char text[128];
        std::snprintf(text, sizeof text, "\"contact\": [\"marble\", \"%s\"], \"strength\": %.2f, \"place\": %.2f",
                      piece, std::clamp(strength, 0.02, 1.0), std::clamp(place, -1.0, 1.0));
        report(at, text);
    }

    void dial(double at, const char* name, double value) {
        char text[64];
        std::snprintf(text, sizeof text, "\"dial\": {\"%s\": %.2f}", name, value);
        report(at, text);
    }
    void notice(double at, const std::string& name) { report(at, "\"notice\": \"" + name + "\""); }
    void scope(double at, const char* what, const char* name) {
        report(at, std::string("\"scope-") + what + "\": \"" + name + "\"");
    }
    /// The pointer goes from one place to another, thirty reports a second.
    void move(double at, double seconds, int x, int y, int to_x, int to_y) {
        const int steps = static_cast<int>(seconds * 30);
        for (int i = 0; i <= steps; ++i)
            report(at + i / 30.0, "\"pointer\": [" + std::to_string(x + (to_x - x) * i / steps) + ", " +
                                      std::to_string(y + (to_y - y) * i / steps) + "]");
    }
    /// The paddle wheel turns, seen thirty times a second; towards its end it runs out.
    void wheel(double at, double seconds) {
        double frame = 0;
        for (double t = 0; t < seconds; t += 1 / 30.0, frame += std::min(1.0, 2 * (seconds - t))) {
            char text[64];
            std::snprintf(text, sizeof text, "\"playhead\": {\"paddle\": %.2f}", frame - 60 * std::floor(frame / 60));
            report(at + t, text);
        }
        report(at + seconds, "\"playhead-gone\": \"paddle\"");
    }

    /// A marble rolls, at a speed of its own that goes evenly from one to another: a play with a value of its own,
    /// which the app turns thirty times a second.
    void roll(double at, double seconds, double from, double to, double place) {
        const std::string number = std::to_string(++rolling_);
        char text[128];
        std::snprintf(text, sizeof text, "\"play\": \"roll\", \"as\": %s, \"scope\": \"bench\", \"pan\": %.2f",
                      number.c_str(), place);
        report(at, text);
        const int steps = static_cast<int>(seconds * 30);
        for (int i = 0; i <= steps; ++i) {
            std::snprintf(text, sizeof text, "\"play-set\": %s, \"values\": {\"speed\": %.2f}", number.c_str(),
                          from + (to - from) * i / steps);
            report(at + i / 30.0, text);
        }
        report(at + seconds, "\"play-stop\": " + number);
    }

    /// One marble's way: down the oak chute, through the pegs, around the funnel, into the tray.
    void marble(double at) {
        double place = -0.7, strength = dice_.between(0.6, 0.9), wait = 0.22;
        at += 0.35;
        roll(at + 0.1, 0.6, 0.5, 1.9, -0.4); // faster and faster
        for (int i = 0; i < 4; ++i, at += wait, wait *= 0.75, strength *= 0.62)
            contact(at, "oak", strength, place += 0.12);
        at += dice_.between(0.15, 0.3);
        for (int i = 0, pegs = 5 + static_cast<int>(dice_.between(0, 3)); i < pegs; ++i, at += dice_.between(0.07, 0.2))
            contact(at, "brass", dice_.between(0.25, 0.8), dice_.between(-0.5, 0.5));
        at += 0.12;
        strength = 0.7;
        for (int turn = 0; turn < 4; ++turn, at += 0.26 - 0.04 * turn, strength *= 0.75)
            contact(at, "glass", strength, 0.5 * std::cos(2.1 * turn));
        at += 0.3;
        contact(at, "oak", 0.8, 0.6);
        roll(at + 0.05, 0.9, 1.4, 0.1, 0.6); // until it lies
        if (in_tray_++ > 0) contact(at + 0.05, "marble", dice_.between(0.3, 0.9), 0.65);
    }
    /// A marble leaves the hopper, by the pointer or by a key.
    void drop(double at) {
        dial(at + 0.01, "hopper-stock", --stock_);
        marble(at);
    }
    void hopper(double at) {
        press(at, 118, 82, 0.12);
        drop(at);
    }
    /// The tray is tipped: many marbles over the oak within a fifth of a second.
    void spill(double at, int marbles) {
        for (int i = 0; i < marbles; ++i)
            contact(at + dice_.between(0, 0.22), i % 3 == 0 ? "marble" : "oak", dice_.between(0.1, 1),
                    dice_.between(0.2, 0.9));
    }

    void write(std::ostream& out) {
        std::stable_sort(lines_.begin(), lines_.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
        out << "{\"trace\": 1, \"rate\": 48000, \"seed\": 7, \"project\": \"marble-run\"}\n";
        char time[32];
        for (const auto& [at, what] : lines_) {
            std::snprintf(time, sizeof time, "%.3f", at);
            out << "{\"at\": " << time << ", " << what << "}\n";
        }
    }

  private:
    Dice dice_{2026};
    int in_tray_ = 0, stock_ = 7, rolling_ = 0;
    std::vector<std::pair<double, std::string>> lines_;
};

} // namespace

void write_run(std::ostream& out) {
    Run run;
    run.hopper(0.5);
    run.move(1.2, 1.4, 118, 82, 430, 330); // over the chute to the funnel
    run.hopper(3.2);
    run.key(5.0, "Space");
    run.drop(5.0);
    run.wheel(6.0, 5.5);
    run.press(7.4, 590, 300, 2.4); // the lift, for as long as it is kept pressed
    run.key(10.4, "Digit2");
    run.hopper(10.9);
    run.key(12.2, "KeyT");
    run.key(12.5, "KeyT"); // while the first still groans
    for (const double at : {13.4, 13.9, 14.3}) run.hopper(at);
    run.press(15.2, 118, 82, 0.1); // the hopper is empty
    const double fill[] = {0.2, 0.45, 0.62, 0.78, 0.86, 0.97};
    for (int i = 0; i < 6; ++i) run.dial(14.0 + 0.7 * i, "fill", fill[i]);
    run.press(18.4, 720, 560, 0.1); // beside everything: no zone is there
    run.press(19.6, 300, 545, 0.1); // the tray
    run.press(20.4, 452, 548, 0.1); // the lamp, in front of the tray
    run.dial(20.9, "fill", 0.99);   // the warning has been answered
    run.notice(21.4, "tray-emptied");
    run.spill(21.4, 26);
    run.notice(23.4, "run-complete");
    run.report(26.4, "\"press\": [590, 300]"); // the lift is held as the bench is left
    run.roll(26.0, 2.0, 0.6, 2.0, -0.2);       // and so does a marble roll
    run.scope(27.2, "leave", "bench");
    run.scope(27.2, "enter", "drawer");
    run.report(27.6, "\"release\": 0");
    run.press(28.1, 250, 300, 0.1);
    run.press(28.6, 400, 300, 0.1);
    run.scope(29.4, "leave", "drawer");
    run.write(out);
}

} // namespace bench
