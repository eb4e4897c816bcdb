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

    /// One marble's way: down the oak chute, through the pegs, around the funnel, into the tray.
    void marble(double at) {
        double place = -0.7, strength = dice_.between(0.6, 0.9), wait = 0.22;
        at += 0.35;
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
        if (in_tray_++ > 0) contact(at + 0.05, "marble", dice_.between(0.3, 0.9), 0.65);
    }
    void hopper(double at) {
        press(at, 118, 82, 0.12);
        marble(at);
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
    int in_tray_ = 0;
    std::vector<std::pair<double, std::string>> lines_;
};

} // namespace

void write_run(std::ostream& out) {
    Run run;
    run.hopper(0.5);
    run.hopper(3.2);
    run.key(5.0, "Space");
    run.marble(5.0);
    run.press(7.4, 590, 300, 2.4); // the lift
    run.report(10.6, "\"notice\": \"lift-top\"");
    run.hopper(10.9);
    run.key(12.2, "KeyT");
    run.key(12.5, "KeyT"); // while the first still groans
    for (const double at : {13.4, 13.9, 14.3}) run.hopper(at);
    const double fill[] = {0.2, 0.45, 0.62, 0.78, 0.86, 0.97};
    for (int i = 0; i < 6; ++i)
        run.report(14.0 + i, "\"dial\": {\"fill\": " + std::to_string(fill[i]).substr(0, 4) + "}");
    run.report(17.6, "\"notice\": \"overflow\"");
    run.press(18.4, 300, 520, 0.1); // beside everything: no zone is there
    run.report(19.0, "\"notice\": \"overflow\"");
    run.press(21.2, 452, 548, 0.1); // the lamp, in front of the tray
    run.report(22.0, "\"dial\": {\"fill\": 0.00}");
    run.report(22.0, "\"notice\": \"tray-emptied\"");
    run.spill(22.0, 26);
    run.key(24.2, "Space");
    run.marble(24.2);
    run.report(27.4, "\"notice\": \"run-complete\"");
    run.write(out);
}

} // namespace bench
