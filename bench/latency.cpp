// Measures the time from a call to the first frame that is heard, on a real output whose signal is recorded:
//   kiai_bench_latency [--calls N] [--block FRAMES] [--json FILE] [--record COMMAND]
// COMMAND writes what the output plays to its standard output: 48,000 frames per second, two floats each, with as
// little delay as it can.
#include <kiai/workshop/workshop.h>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <atomic>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <iostream>
#include <mutex>
#include <string>
#include <thread>
#include <unistd.h>
#include <vector>

namespace {

namespace fs = std::filesystem;
using Clock = std::chrono::steady_clock;

constexpr int rate = 48000;
constexpr int clip_frames = 480;

double seconds(Clock::time_point at) {
    return std::chrono::duration<double>(at.time_since_epoch()).count();
}

/// Reads the recorder and finds where silence ends. The time of a frame comes from the earliest chunk that contains it,
/// so the figures include the recorder's own delay.
class Recording {
  public:
    explicit Recording(const std::string& command) : pipe_(popen(command.c_str(), "r")) {
        if (pipe_) reader_ = std::thread([this] { read(); });
    }
    ~Recording() {
        stop_ = true;
        if (reader_.joinable()) reader_.join();
        if (pipe_) pclose(pipe_);
    }
    Recording(const Recording&) = delete;
    Recording& operator=(const Recording&) = delete;

    bool runs() const { return frames_ > 0; }
    /// Returns when each stretch of sound started, on the steady clock.
    std::vector<double> onsets() const {
        const std::lock_guard lock(mutex_);
        std::vector<double> at;
        for (const long frame : onsets_) {
            const std::size_t part = static_cast<std::size_t>(frame) / part_frames, from = part < 2 ? 0 : part - 2;
            const auto to = earliest_.begin() + static_cast<std::ptrdiff_t>(std::min(part + 3, earliest_.size()));
            at.push_back(*std::min_element(earliest_.begin() + static_cast<std::ptrdiff_t>(from), to) +
                         static_cast<double>(frame) / rate);
        }
        return at;
    }

  private:
    void read() {
        float chunk[2 * 64];
        long silent = rate;
        while (!stop_) {
            const std::size_t got = std::fread(chunk, 2 * sizeof(float), 64, pipe_);
            if (got == 0) return;
            const double now = seconds(Clock::now());
            const std::lock_guard lock(mutex_);
            for (std::size_t i = 0; i < got; ++i, ++frames_) {
                if (chunk[2 * i] == 0 && chunk[2 * i + 1] == 0) {
                    ++silent;
                    continue;
                }
                if (silent > rate / 50) onsets_.push_back(frames_);
                silent = 0;
            }
            earliest_.resize(static_cast<std::size_t>(frames_) / part_frames + 1, 1e300);
            earliest_.back() = std::min(earliest_.back(), now - static_cast<double>(frames_) / rate);
        }
    }

    FILE* pipe_;
    std::thread reader_;
    std::atomic<bool> stop_{false};
    std::atomic<long> frames_{0};
    mutable std::mutex mutex_;
    std::vector<long> onsets_;
    // The time of frame 0, estimated from each quarter of a second, because the output's clock differs slightly from
    // the machine's.
    static constexpr std::size_t part_frames = rate / 4;
    std::vector<double> earliest_;
};

/// Makes a project with one clip that starts at once, at full level.
kiai::Project project() {
    const fs::path folder = fs::temp_directory_path() / ("kiai-bench-latency-" + std::to_string(getpid()));
    fs::create_directories(folder);
    std::vector<float> tone(2 * clip_frames, 0.25f);
    kiai::write_wav(folder / "tone.wav", tone, rate);
    std::ofstream(folder / "kiai.toml") << "format = 1\n[clip]\ntone = \"tone.wav\"\n";
    kiai::Project made = kiai::load_project(folder).project;
    fs::remove_all(folder);
    return made;
}

struct Row {
    int block = 0;
    bool timestamped = false;
    double device = 0;                    ///< from `render` to the ear, as it says
    std::vector<double> served, recorded; ///< from the call, sorted
    int calls = 0;
};

void until(double time) {
    while (seconds(Clock::now()) < time) std::this_thread::yield();
}

/// Makes calls at random times and finds each in the recording.
Row measure(int block, bool timestamped, int calls, const Recording& recording) {
    Row row{block, timestamped, 0, {}, {}, calls};
    kiai::Engine engine(project(), {.seed = 1});
    engine.set_log({});
    kiai::Speaker speaker(engine, {.block = block, .timestamped = timestamped, .latency = kiai::Seconds(0.005)});
    speaker.wait_until_open(kiai::Seconds(10));
    until(seconds(Clock::now()) + 0.5);
    std::vector<double> called;
    for (int i = 0; i < calls; ++i) {
        until(seconds(Clock::now()) + 0.15 + 0.013 * (i % 7) / 7);
        called.push_back(seconds(Clock::now()));
        const kiai::Play play = engine.play("tone");
        while (play.state() == kiai::PlayState::asked) {
        }
        row.served.push_back(seconds(Clock::now()) - called.back());
        engine.poll();
    }
    row.device = speaker.latency().count();
    until(seconds(Clock::now()) + 0.5);
    const std::vector<double> heard = recording.onsets();
    for (const double at : called) { // the first that is heard after it
        const auto first = std::upper_bound(heard.begin(), heard.end(), at);
        if (first != heard.end() && *first - at < 0.14) row.recorded.push_back(*first - at);
    }
    std::sort(row.served.begin(), row.served.end());
    std::sort(row.recorded.begin(), row.recorded.end());
    return row;
}

double median(const std::vector<double>& sorted) {
    return sorted.empty() ? 0 : 1000 * sorted[sorted.size() / 2];
}

double last(const std::vector<double>& sorted) {
    return sorted.empty() ? 0 : 1000 * sorted.back();
}

} // namespace

int main(int count, char** arguments) {
    int calls = 100;
    std::string json, record = "parec -d @DEFAULT_MONITOR@ --format=float32le --rate=48000 --channels=2 "
                               "--latency-msec=5 --process-time-msec=2 2>/dev/null";
    std::vector<int> blocks{64, 128, 256, 512};
    for (int i = 1; i + 1 < count; i += 2) {
        const std::string word = arguments[i];
        if (word == "--calls") calls = std::max(1, std::atoi(arguments[i + 1]));
        if (word == "--block") blocks = {std::max(1, std::atoi(arguments[i + 1]))};
        if (word == "--json") json = arguments[i + 1];
        if (word == "--record") record = arguments[i + 1];
    }
    const Recording recording(record);
    for (double patience = seconds(Clock::now()) + 20; !recording.runs() && seconds(Clock::now()) < patience;)
        std::this_thread::yield();
    if (!recording.runs()) {
        std::cerr << "nothing is recorded: `" << record << "` gives nothing; name another with --record\n";
        return 1;
    }
    nlohmann::json all = nlohmann::json::array();
    fmt::print("| block | calls | heard | call to its block: median | max | device says | heard after: median | max |\n"
               "|---|---|---|---|---|---|---|---|\n");
    for (const bool timestamped : {false, true})
        for (const int block : blocks) {
            const Row row = measure(block, timestamped, calls, recording);
            fmt::print("| {}{} | {} | {} | {:.1f} ms | {:.1f} ms | {:.1f} ms | {:.1f} ms | {:.1f} ms |\n", row.block,
                       row.timestamped ? ", placed" : "", row.calls, row.recorded.size(), median(row.served),
                       last(row.served), 1000 * row.device, median(row.recorded), last(row.recorded));
            std::fflush(stdout);
            all.push_back({{"block", row.block},
                           {"placed", row.timestamped},
                           {"calls", row.calls},
                           {"device", row.device},
                           {"served", row.served},
                           {"recorded", row.recorded}});
        }
    if (!json.empty()) std::ofstream(json) << all.dump(1) << '\n';
    return 0;
}
