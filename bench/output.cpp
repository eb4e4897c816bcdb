// Finds out whether an output has gaps while the machine is busy, from a recording of it:
// kiai_bench_output [--seconds N] [--busy N] [--block FRAMES] [--latency MS] [--json FILE] [--record COMMAND]
// `--busy` processes compute without a pause (default: one per core). COMMAND writes what the output plays to its
// standard output: 48,000 frames per second, two floats each. The engine plays a ramp with equal steps from frame to
// frame, so a missing, silent or repeated frame is visible.
#include <kiai/workshop/workshop.h>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <csignal>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <iostream>
#include <string>
#include <thread>
#include <unistd.h>
#include <vector>

#include <sys/wait.h>

namespace {

namespace fs = std::filesystem;
using Clock = std::chrono::steady_clock;

constexpr int rate = 48000, turn = 4096;
constexpr float step = 1.0f / 8192; // from 0.25 up to 0.75

/// Makes a project with an endless loop of the ramp.
kiai::Project project() {
    const fs::path folder = fs::temp_directory_path() / ("kiai-bench-output-" + std::to_string(getpid()));
    fs::create_directories(folder);
    std::vector<float> ramp(2 * turn);
    for (int i = 0; i < turn; ++i)
        ramp[2 * static_cast<std::size_t>(i)] = ramp[2 * static_cast<std::size_t>(i) + 1] =
            0.25f + step * static_cast<float>(i);
    kiai::write_wav(folder / "ramp.wav", ramp, rate);
    std::ofstream(folder / "kiai.toml") << "format = 1\n[clip]\nramp = \"ramp.wav\"\n[sound.lasting]\n"
                                           "takes = [\"ramp\"]\nloop = true\n";
    kiai::Project made = kiai::load_project(folder).project;
    fs::remove_all(folder);
    return made;
}

struct Heard {
    long frames = 0;    ///< from the first that is heard
    long holes = 0;     ///< stretches of silence
    long silent = 0;    ///< frames in them
    long jumps = 0;     ///< frames that do not follow the one before, other than at a hole
    double longest = 0; ///< seconds of the longest hole
};

/// Reads the recorder for that time, from the first audible frame on.
Heard listen(FILE* recorder, double seconds) {
    Heard heard;
    float chunk[2 * 256], last = 0;
    long hole = 0;
    const auto end = Clock::now() + std::chrono::duration<double>(seconds);
    while (Clock::now() < end) {
        const std::size_t got = std::fread(chunk, 2 * sizeof(float), 256, recorder);
        if (got == 0) break;
        for (std::size_t i = 0; i < got; ++i) {
            const float now = chunk[2 * i];
            if (heard.frames == 0 && now < 0.25f) continue; // it fades in, or has not started
            ++heard.frames;
            if (now == 0) {
                heard.holes += hole == 0 ? 1 : 0;
                ++heard.silent;
                ++hole;
                heard.longest = std::max(heard.longest, static_cast<double>(hole) / rate);
                continue;
            }
            const float next = last + step > 0.75f - step / 2 ? 0.25f : last + step;
            if (hole == 0 && last != 0 && std::abs(now - next) > step / 4) ++heard.jumps;
            last = now;
            hole = 0;
        }
    }
    return heard;
}

std::vector<pid_t> start_busy(int count) {
    std::vector<pid_t> all;
    for (int i = 0; i < count; ++i) {
        const pid_t child = fork();
        if (child == 0)
            for (volatile double x = 1;;) x = std::sqrt(x + 1);
        all.push_back(child);
    }
    return all;
}

} // namespace

int main(int count, char** arguments) {
    double length = 60;
    int busy = static_cast<int>(std::thread::hardware_concurrency());
    kiai::SpeakerSettings settings;
    std::string json, record = "parec -d @DEFAULT_MONITOR@ --format=float32le --rate=48000 --channels=2 2>/dev/null";
    for (int i = 1; i + 1 < count; i += 2) {
        const std::string word = arguments[i];
        if (word == "--seconds") length = std::max(0.1, std::atof(arguments[i + 1]));
        if (word == "--busy") busy = std::max(0, std::atoi(arguments[i + 1]));
        if (word == "--block") settings.block = std::max(0, std::atoi(arguments[i + 1]));
        if (word == "--latency") settings.latency = kiai::Seconds(std::max(0.0, std::atof(arguments[i + 1]) / 1000));
        if (word == "--json") json = arguments[i + 1];
        if (word == "--record") record = arguments[i + 1];
    }
    const std::vector<pid_t> busy_processes = start_busy(busy);
    kiai::Engine engine(project(), {.seed = 1});
    engine.set_log({});
    Heard heard;
    double latency = 0;
    std::uint64_t late = 0;
    std::string status;
    {
        kiai::Speaker speaker(engine, settings);
        speaker.wait_until_open(kiai::Seconds(10));
        FILE* const recorder = popen(record.c_str(), "r");
        engine.play("lasting");
        if (recorder) heard = listen(recorder, length);
        latency = speaker.latency().count();
        late = speaker.late_blocks();
        status = speaker.status();
        if (recorder) pclose(recorder);
    }
    for (const pid_t child : busy_processes) {
        kill(child, SIGKILL);
        waitpid(child, nullptr, 0);
    }
    if (heard.frames == 0) {
        std::cerr << "nothing is recorded: `" << record << "` gives nothing; name another with --record\n";
        return 1;
    }
    fmt::print("| output | busy processes | recorded | holes | silent | longest | jumps | late blocks | latency |\n"
               "|---|---|---|---|---|---|---|---|---|\n"
               "| {} | {} | {:.1f} s | {} | {:.1f} ms | {:.1f} ms | {} | {} | {:.1f} ms |\n",
               status, busy, static_cast<double>(heard.frames) / rate, heard.holes,
               1000.0 * static_cast<double>(heard.silent) / rate, 1000 * heard.longest, heard.jumps, late,
               1000 * latency);
    if (!json.empty())
        std::ofstream(json) << nlohmann::json{{"output", status},       {"busy", busy},
                                              {"frames", heard.frames}, {"holes", heard.holes},
                                              {"silent", heard.silent}, {"longest", heard.longest},
                                              {"jumps", heard.jumps},   {"late-blocks", late},
                                              {"latency", latency}}
                                   .dump(1)
                            << '\n';
    return 0;
}
