// Inserts the app's own effect into a bus, and records the finished mix.
#include <kiai/kiai.h>

#include <algorithm>
#include <cstdio>
#include <memory>
#include <vector>

namespace {

/// Repeats the signal after a quarter of a second, at half the level each time.
class Echo : public kiai::Insert {
  public:
    void prepare(int sample_rate, int) override {
        left_.resize(static_cast<std::size_t>(sample_rate / 4));
        right_.resize(left_.size());
    }
    void process(std::span<float> left, std::span<float> right) override {
        for (std::size_t i = 0; i < left.size(); ++i) {
            left_[at_] = left[i] += 0.5f * left_[at_];
            right_[at_] = right[i] += 0.5f * right_[at_];
            at_ = (at_ + 1) % left_.size();
        }
    }
    void reset() override {
        std::fill(left_.begin(), left_.end(), 0.0f);
        std::fill(right_.begin(), right_.end(), 0.0f);
    }
    kiai::Seconds tail() const override { return kiai::Seconds(4); } // until it is below -90 dB

  private:
    std::vector<float> left_, right_;
    std::size_t at_ = 0;
};

} // namespace

int main() {
    kiai::Engine engine(kiai::load_project("marble-run").project, {.seed = 1});
    if (!engine.set_insert("pieces", std::make_shared<Echo>())) return 1;
    const kiai::MixFile file("echo.wav", engine.sample_rate());
    engine.set_mix_sink(file);

    engine.play("oak");
    std::vector<float> quarter(static_cast<std::size_t>(engine.sample_rate() / 4) * 2);
    for (int turn = 0; turn < 5; ++turn) { // in an app the device asks for the frames
        engine.render(quarter);
        engine.poll(); // hands the mix on
        const auto peak = std::max_element(quarter.begin(), quarter.end());
        std::printf("%.2f s  peak %.3f\n", 0.25 * turn, static_cast<double>(*peak));
    }
    if (!file.error().empty()) std::fprintf(stderr, "%s\n", file.error().c_str());
}
