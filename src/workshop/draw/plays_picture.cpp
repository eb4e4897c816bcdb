// Draws several plays below one another, to show how much they differ.
#include "workshop/draw/paper.h"

#include <kiai/workshop/picture.h>

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <vector>

namespace kiai {
namespace workshop {
namespace {

constexpr int left = 60, right_of_wave = 700, pitch_at = 730, gain_at = 920, words_at = 1100, width = 1280, top = 70;
constexpr double column = 150; // of pitch, and of gain
constexpr int most_rows = 24;

struct PlayRow {
    const Decision* played = nullptr;
    Frames end = 0;
};

std::vector<PlayRow> rows_of(const Rehearsal& rehearsal) {
    std::vector<PlayRow> rows;
    for (const Decision& decision : rehearsal.decisions) {
        if (decision.outcome == Outcome::played) rows.push_back({&decision, decision.frame});
        if (decision.outcome != Outcome::ended) continue;
        for (PlayRow& row : rows)
            if (row.played->play == decision.play) row.end = decision.frame;
    }
    return rows;
}

/// A range from minimum to maximum, never too narrow to distinguish positions.
struct Range {
    double low = 1e9, high = -1e9;
    void take(double value) { low = std::min(low, value), high = std::max(high, value); }
    void finish(double least) {
        const double middle = (low + high) / 2, reach = std::max(least, (high - low) / 2 * 1.1);
        low = middle - reach, high = middle + reach;
    }
    double place(double value) const { return (value - low) / (high - low); }
};

std::string tenths(double value) {
    return fmt::format("{:+.1f}", std::round(value * 10) / 10 + 0.0); // no "-0.0"
}

class Sheet {
  public:
    Sheet(const Rehearsal& rehearsal, const PictureSettings& settings)
        : rehearsal_(rehearsal), settings_(settings), all_(rows_of(rehearsal)) {
        shown_ = std::min<std::size_t>(all_.size(), most_rows);
        const double most =
            std::max(40.0, (settings.height - top - 50.0) / static_cast<double>(std::max<std::size_t>(1, shown_)));
        row_ = std::min(90.0, most);
        for (std::size_t r = 0; r < shown_; ++r) {
            longest_ = std::max(longest_, all_[r].end - all_[r].played->frame);
            for (const LayerTake& layer : all_[r].played->layers) pitch_.take(layer.pitch), gain_.take(layer.gain);
        }
        pitch_.finish(0.5);
        gain_.finish(0.5);
        for (const float sample : rehearsal.samples) loudest_ = std::max(loudest_, std::abs(sample));
    }
    int height() const { return static_cast<int>(top + row_ * static_cast<double>(shown_) + 50); }

    std::string draw(const std::filesystem::path& file) {
        Paper paper(width, height());
        head(paper);
        for (std::size_t r = 0; r < shown_; ++r) row(paper, all_[r], r, top + row_ * static_cast<double>(r));
        axis(paper, top + row_ * static_cast<double>(shown_) + 8);
        return paper.save(file);
    }

  private:
    void head(Paper& paper) const {
        paper.text(16, 24, settings_.title.empty() ? "Plays" : settings_.title, 17, black, true);
        std::string facts = fmt::format("seed {} · {} plays", rehearsal_.seed, all_.size());
        if (shown_ < all_.size()) facts += fmt::format(", the first {} shown", shown_);
        paper.text(width - 22 - paper.text_width(facts, 12), 24, facts, 12, grey);
        paper.text(left, 50, "measured waveform of both sides", 10, grey);
        paper.text(pitch_at, 50, fmt::format("pitch, {:+.1f} to {:+.1f} st", pitch_.low, pitch_.high), 10, grey);
        paper.text(gain_at, 50, fmt::format("gain, {:+.1f} to {:+.1f} dB", gain_.low, gain_.high), 10, grey);
        paper.text(words_at, 50, "take of each layer", 10, grey);
    }

    void row(Paper& paper, const PlayRow& play, std::size_t number, double y) const {
        const double middle = y + row_ / 2;
        paper.text(16, middle, fmt::format("{}", number + 1), 12, black, true);
        paper.line(left, middle, right_of_wave, middle, pale, 0.6);
        waveform(paper, play, middle);
        for (const double at : {static_cast<double>(pitch_at), static_cast<double>(gain_at)}) {
            paper.line(at, middle, at + column, middle, pale, 0.6);
            for (const double end : {at, at + column}) paper.line(end, middle - 4, end, middle + 4, pale, 0.6);
        }
        double line =
            middle - 7 * static_cast<double>(play.played->layers.size() - (play.played->layers.empty() ? 0 : 1));
        if (play.played->layers.empty()) paper.text(words_at, middle, "no layer (chance)", 10, grey);
        for (std::size_t l = 0; l < play.played->layers.size(); ++l) {
            const LayerTake& layer = play.played->layers[l];
            const Ink ink = l == 0 ? wave : l == 1 ? amber : grey;
            mark(paper, pitch_at + column * pitch_.place(layer.pitch), middle, tenths(layer.pitch), ink, l);
            mark(paper, gain_at + column * gain_.place(layer.gain), middle, tenths(layer.gain), ink, l);
            paper.text(words_at, line, fmt::format("{} ({} of {})", layer.clip, layer.number, layer.of), 10, ink);
            line += 14;
        }
    }

    void mark(Paper& paper, double x, double y, const std::string& words, Ink ink, std::size_t layer) const {
        paper.line(x, y - 7, x, y + 7, ink, 2.4);
        if (row_ >= 34)
            paper.text(x - paper.text_width(words, 8.5) / 2, layer % 2 == 0 ? y - 13 : y + 13, words, 8.5, ink);
    }

    void waveform(Paper& paper, const PlayRow& play, double middle) const {
        std::vector<double> heights;
        const double per_pixel = static_cast<double>(std::max<Frames>(1, longest_)) / (right_of_wave - left);
        for (double at = static_cast<double>(play.played->frame); at < static_cast<double>(play.end); at += per_pixel) {
            float most = 0;
            const auto to =
                std::min<std::size_t>(static_cast<std::size_t>(at + per_pixel) * 2, rehearsal_.samples.size());
            for (auto i = static_cast<std::size_t>(at) * 2; i < to; ++i)
                most = std::max(most, std::abs(rehearsal_.samples[i]));
            heights.push_back(std::max(0.5, most / std::max(loudest_, 1e-9f) * (row_ / 2 - 5)));
        }
        if (!heights.empty()) paper.trail(left, middle, heights, wave);
    }

    void axis(Paper& paper, double y) const {
        const double seconds = static_cast<double>(longest_) / rehearsal_.sample_rate;
        double step = 0.01;
        for (const double wider : {0.02, 0.05, 0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 60.0})
            if (seconds / step > 10) step = wider;
        paper.line(left, y, right_of_wave, y, grey);
        for (double t = 0; t <= seconds; t += step) {
            const double x = left + t / seconds * (right_of_wave - left);
            paper.line(x, y, x, y + 4, grey);
            if (x < right_of_wave - 30)
                paper.text(x + 3, y + 10, step < 0.1 ? fmt::format("{:.0f} ms", t * 1000) : fmt::format("{:.1f} s", t),
                           10, grey);
        }
    }

    const Rehearsal& rehearsal_;
    const PictureSettings& settings_;
    std::vector<PlayRow> all_;
    std::size_t shown_ = 0;
    double row_ = 40;
    Frames longest_ = 1;
    Range pitch_, gain_;
    float loudest_ = 0;
};

} // namespace
} // namespace workshop

inline namespace v0 {

std::string draw_plays(const std::filesystem::path& file, const Rehearsal& rehearsal, const PictureSettings& wanted) {
    PictureSettings settings = wanted;
    settings.height = std::clamp(settings.height, 320, 8000);
    const bool any = std::any_of(rehearsal.decisions.begin(), rehearsal.decisions.end(),
                                 [](const Decision& decision) { return decision.outcome == Outcome::played; });
    if (!any) return file.string() + ": there is nothing to draw";
    return workshop::Sheet(rehearsal, settings).draw(file);
}

} // namespace v0
} // namespace kiai
