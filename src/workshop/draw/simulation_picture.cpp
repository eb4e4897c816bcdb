// Draws the choices of thousands of plays, with what the project states.
#include "workshop/draw/paper.h"

#include <kiai/workshop/picture.h>

#include <fmt/format.h>

#include <algorithm>

namespace kiai {
namespace workshop {
namespace {

constexpr double left = 16, takes_at = 190, pitch_at = 560, gain_at = 920, panel = 320, top = 66, least_row = 120,
                 take_row = 15, heading = 26, bottom = 40, width = 1280;

double height_of(const SimulatedLayer& layer) {
    const bool drawn = !layer.pitch.counts.empty() || !layer.gain.counts.empty();
    return std::max(drawn ? least_row : 48, take_row * static_cast<double>(layer.takes.size()) + 18) + 18;
}

class Sheet {
  public:
    Sheet(const Simulation& simulation, const PictureSettings& settings)
        : simulation_(simulation), settings_(settings), height_(static_cast<int>(height())),
          paper_(static_cast<int>(width), height_) {}

    std::string draw(const std::filesystem::path& file) {
        head();
        double y = top;
        for (const SimulatedSound& sound : simulation_.sounds) {
            std::string words = fmt::format("{} plays", sound.plays);
            for (const auto& [rule, count] : sound.refused) words += fmt::format(", {} refused by {}", count, rule);
            if (sound.stolen > 0) words += fmt::format(", {} stolen", sound.stolen);
            paper_.line(left, y - 12, width - 22, y - 12, grey, 0.8);
            paper_.text(left, y + 2, sound.sound, 13, black, true);
            paper_.text(left + paper_.text_width(sound.sound, 13, true) + 12, y + 2, words, 11, grey);
            y += heading;
            for (const SimulatedLayer& layer : sound.layers) {
                if (layer.heard == 0) continue;
                row(layer, sound.plays, y);
                y += height_of(layer);
            }
        }
        legend();
        return paper_.save(file);
    }

  private:
    double height() const {
        double sum = top + bottom;
        for (const SimulatedSound& sound : simulation_.sounds) {
            sum += heading;
            for (const SimulatedLayer& layer : sound.layers) sum += layer.heard > 0 ? height_of(layer) : 0;
        }
        return std::clamp(sum, 320.0, 8000.0);
    }

    void head() {
        paper_.text(left, 24, settings_.title.empty() ? "Simulation" : settings_.title, 17, black, true);
        std::string facts = fmt::format("seed {}", simulation_.seed);
        for (const auto& [rule, count] : simulation_.kept) facts += fmt::format(" · `{}` kept {}", rule, count);
        paper_.text(width - 22 - paper_.text_width(facts, 12), 24, facts, 12, grey);
    }

    void row(const SimulatedLayer& layer, int plays, double y) {
        paper_.text(left, y + 8, fmt::format("layer {}", layer.layer), 12, black, true);
        paper_.text(left, y + 26, fmt::format("heard in {:.1f} %", 100.0 * layer.heard / std::max(1, plays)), 10, grey);
        if (layer.chance < 1) paper_.text(left, y + 41, fmt::format("stated {:.1f} %", 100 * layer.chance), 10, amber);
        if (layer.takes.size() > 1)
            paper_.text(left, y + 56,
                        layer.same_twice == 0 ? "never twice in a row"
                                              : fmt::format("twice in a row: {}", layer.same_twice),
                        10, grey);
        takes(layer, y);
        histogram(layer.pitch, "pitch, st", pitch_at, y, height_of(layer) - 34);
        histogram(layer.gain, "gain, dB", gain_at, y, height_of(layer) - 34);
    }

    void box(double x0, double y0, double x1, double y1) {
        paper_.outline({{x0, y0}, {x1, y0}, {x1, y1}, {x0, y1}}, wave, 0.8, {wave.red, wave.green, wave.blue, 0.28});
    }

    void takes(const SimulatedLayer& layer, double y) {
        paper_.text(takes_at, y, fmt::format("takes, {}", layer.pick), 10, grey);
        const double bars = takes_at + 110, wide = panel - 140;
        double most = 0;
        for (const SimulatedTake& take : layer.takes)
            most = std::max({most, static_cast<double>(take.count) / layer.heard, take.stated});
        for (std::size_t t = 0; t < layer.takes.size(); ++t) {
            const SimulatedTake& take = layer.takes[t];
            const double at = y + 16 + take_row * static_cast<double>(t),
                         part = static_cast<double>(take.count) / layer.heard;
            paper_.text(takes_at, at, take.clip, 9.5, black);
            box(bars, at - 5, bars + wide * part / most, at + 5);
            paper_.line(bars + wide * take.stated / most, at - 7, bars + wide * take.stated / most, at + 7, amber, 1.8);
            paper_.text(bars + wide + 8, at, fmt::format("{:.1f} %", 100 * part), 9.5, grey);
        }
    }

    void histogram(const Histogram& drawn, const char* what, double x, double y, double tall) {
        if (drawn.counts.empty()) {
            paper_.text(x, y, fmt::format("{}: always {:+.2f}", what, drawn.low), 10, grey);
            return;
        }
        paper_.text(x, y,
                    drawn.stated.empty()
                        ? what
                        : fmt::format("{}; furthest from what is stated {:.2f} %", what, 100 * drawn.difference),
                    10, grey);
        double all = 0, most = 0;
        for (const int count : drawn.counts) all += count;
        for (std::size_t b = 0; b < drawn.counts.size(); ++b)
            most = std::max({most, drawn.counts[b] / all, drawn.stated.empty() ? 0 : drawn.stated[b]});
        const double step = panel / static_cast<double>(drawn.counts.size()), floor = y + tall;
        const auto up = [&](double part) { return floor - part / most * (tall - 14); };
        for (std::size_t b = 0; b < drawn.counts.size(); ++b) {
            const double at = x + step * static_cast<double>(b);
            if (drawn.counts[b] > 0) box(at + 1, floor, at + step - 1, up(drawn.counts[b] / all));
        }
        for (std::size_t b = 0; b < drawn.stated.size(); ++b) {
            const double at = x + step * static_cast<double>(b);
            paper_.line(at, up(drawn.stated[b]), at + step, up(drawn.stated[b]), amber, 1.8);
        }
        paper_.line(x, floor, x + panel, floor, grey, 0.8);
        const double places[] = {drawn.low, (drawn.low + drawn.high) / 2, drawn.high};
        for (int p = 0; p < 3; ++p) {
            const std::string words = fmt::format("{:+.2f}", places[p]);
            const double wide = paper_.text_width(words, 9.5);
            paper_.line(x + panel / 2 * p, floor, x + panel / 2 * p, floor + 4, grey, 0.8);
            paper_.text(x + panel / 2 * p - wide / 2 * p, floor + 12, words, 9.5, grey);
        }
    }

    void legend() {
        const double y = height_ - 16;
        box(left, y - 5, left + 22, y + 5);
        paper_.text(left + 28, y, "picked", 11, grey);
        paper_.line(left + 120, y, left + 142, y, amber, 1.8);
        paper_.text(left + 148, y, "what the project states", 11, grey);
    }

    const Simulation& simulation_;
    const PictureSettings& settings_;
    int height_;
    Paper paper_;
};

} // namespace
} // namespace workshop

inline namespace v0 {

std::string draw_simulation(const std::filesystem::path& file, const Simulation& simulation,
                            const PictureSettings& settings) {
    if (simulation.sounds.empty()) return file.string() + ": there is nothing to draw";
    return workshop::Sheet(simulation, settings).draw(file);
}

} // namespace v0
} // namespace kiai
