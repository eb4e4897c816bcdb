// Measures work on whole projects: how long the app's calls wait while a project is replaced, and how fast the marble
// run is simulated and rehearsed.
//   kiai_bench_projects [--repeats N]
#include <kiai/workshop/workshop.h>

#include <fmt/format.h>

#include <algorithm>
#include <atomic>
#include <chrono>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <functional>
#include <map>
#include <string>
#include <thread>
#include <unistd.h>
#include <vector>

namespace {

namespace fs = std::filesystem;
using Clock = std::chrono::steady_clock;

constexpr int rate = 48000, frames = 256;

double seconds_of(const std::function<void()>& work) {
    const auto begin = Clock::now();
    work();
    return std::chrono::duration<double>(Clock::now() - begin).count();
}

double at(std::vector<double>& values, double part) {
    std::sort(values.begin(), values.end());
    return values.empty() ? 0 : values[static_cast<std::size_t>(part * static_cast<double>(values.size() - 1) + 0.5)];
}

/// A project of that many sounds, each with a clip and a binding of its own. `gain`: of all sounds, in dB.
kiai::Project project_of(int sounds, int gain) {
    const fs::path folder = fs::temp_directory_path() / ("kiai-bench-projects-" + std::to_string(getpid()));
    fs::create_directories(folder);
    std::ofstream toml(folder / "kiai.toml");
    toml << "format = 1\n[dial.load]\nrange = [0, 1]\n[clip]\n";
    kiai::LoadOptions options;
    for (int s = 0; s < sounds; ++s) {
        const std::string name = "c" + std::to_string(s);
        toml << name << " = { from-app = true }\n";
        options.samples[name] = {rate, 1, std::vector<float>(4800, 0.01f)};
    }
    for (int s = 0; s < sounds; ++s)
        toml << fmt::format(
            "[sound.s{}]\ntakes = [\"c{}\"]\ngain = {}\nlimit = {{ plays = 2 }}\n[[binding]]\ntrigger = "
            "{{ notice = \"n{}\" }}\naction = {{ play = \"s{}\" }}\n",
            s, s, gain, s, s);
    toml.close();
    kiai::LoadResult loaded = kiai::load_project(folder, options);
    fs::remove_all(folder);
    if (!loaded.ok()) std::abort();
    return std::move(loaded.project);
}

enum class Beside { nothing, swap, same_work };

/// Measures calls from one thread, in microseconds, while another renders and a third replaces the project. To compare,
/// the third thread also gives the same project to an engine that nobody calls, which takes the same processor time.
std::map<Beside, std::vector<double>> calls_while_swapped(int swaps) {
    const kiai::Project one = project_of(1000, 0), other = project_of(1000, -6);
    kiai::Engine engine(one, {.seed = 1, .reports = 1 << 16}), elsewhere(one, {.seed = 1});
    for (kiai::Engine* each : {&engine, &elsewhere}) {
        each->set_log({});
        each->set_findings({});
    }
    std::atomic<Beside> beside{Beside::nothing};
    std::atomic<bool> over = false;
    std::thread rendering([&] {
        std::vector<float> block(2 * frames);
        for (auto next = Clock::now(); !over; std::this_thread::sleep_until(next)) {
            engine.render(block);
            next += std::chrono::nanoseconds(1'000'000'000LL * frames / rate);
        }
    });
    std::map<Beside, std::vector<double>> took;
    std::thread calling([&] {
        for (int turn = 0; !over; ++turn) {
            const Beside now = beside;
            const std::string sound = "s" + std::to_string(turn * 7919 % 1000), notice = 'n' + sound.substr(1);
            const double seconds = seconds_of([&] {
                switch (turn % 5) {
                case 0:
                    engine.notice(notice);
                    break;
                case 1:
                    engine.play(sound);
                    break;
                case 2:
                    engine.set_dial("load", static_cast<float>(turn % 100) / 100);
                    break;
                case 3:
                    static_cast<void>(engine.dial("load"));
                    break;
                default:
                    static_cast<void>(engine.sounding());
                }
            });
            if (now == beside) took[now].push_back(seconds * 1e6);
            std::this_thread::sleep_for(std::chrono::microseconds(20));
        }
    });
    for (int swap = 0; swap < swaps; ++swap) {
        const kiai::Project& next = swap % 2 == 0 ? other : one;
        beside = Beside::swap;
        engine.set_project(next);
        engine.poll();
        beside = Beside::same_work;
        elsewhere.set_project(next);
        elsewhere.poll();
        beside = Beside::nothing;
        std::this_thread::sleep_for(std::chrono::milliseconds(20)); // so that `render` takes the project
        engine.poll();
    }
    over = true;
    rendering.join();
    calling.join();
    return took;
}

} // namespace

int main(int count, char** arguments) {
    const int repeats = count == 3 && std::string(arguments[1]) == "--repeats" ? std::atoi(arguments[2]) : 200;
    std::map<Beside, std::vector<double>> took = calls_while_swapped(repeats);
    fmt::print("calls of one thread while a project of 1,000 sounds is replaced, {} times: microseconds\n"
               "{:<46} {:>8} {:>8} {:>8} {:>8} {:>8}\n",
               repeats, "", "calls", "median", "p99", "p99.9", "max");
    for (const auto& [beside, what] : {std::pair(Beside::swap, "while it is replaced"),
                                       std::pair(Beside::same_work, "while another engine's is, which nobody calls"),
                                       std::pair(Beside::nothing, "while none is")}) {
        std::vector<double>& all = took[beside];
        fmt::print("{:<46} {:>8} {:>8.2f} {:>8.2f} {:>8.2f} {:>8.2f}\n", what, all.size(), at(all, 0.5), at(all, 0.99),
                   at(all, 0.999), at(all, 1));
    }

    const fs::path marble = fs::path(KIAI_SOURCE) / "examples/marble-run";
    const kiai::Project project = kiai::load_project(marble).project;
    const kiai::Trace trace = kiai::load_trace(marble / "run.jsonl").trace;
    constexpr int times = 10000;
    constexpr double interval = 0.5;
    std::vector<double> simulated, rendered, ratios, rehearsed;
    double lasted = 0;
    for (int turn = 0; turn < 11; ++turn) {
        simulated.push_back(seconds_of([&] {
            const kiai::Simulation simulation = kiai::simulate(project, 1, {.times = times, .fire = {}});
            if (simulation.times != times) std::abort(); // else nothing was measured
        }));
        rendered.push_back(seconds_of([&] {
            kiai::Engine engine(project, {.seed = 1});
            engine.set_log({});
            std::vector<float> block(2 * frames);
            for (int presses = 0; static_cast<double>(engine.now()) < times * interval * rate;) {
                if (static_cast<double>(engine.now()) >= presses * interval * rate) {
                    engine.press({118, 82}), engine.release();
                    ++presses;
                }
                engine.render(block);
                engine.poll();
            }
        }));
        ratios.push_back(rendered.back() / simulated.back());
        rehearsed.push_back(seconds_of(
            [&] { lasted = static_cast<double>(kiai::rehearse(project, trace).samples.size()) / 2 / rate; }));
    }
    fmt::print(
        "\n{} presses simulated in {:.2f} s; as many seconds rendered in {:.2f} s: {:.1f} times as long (mark >= "
        "20)\nthe run of {:.1f} s rehearsed in {:.1f} ms: {:.0f} times real time (mark >= 500)\n",
        times, at(simulated, 0.5), at(rendered, 0.5), at(ratios, 0.5), lasted, at(rehearsed, 0.5) * 1e3,
        lasted / at(rehearsed, 0.5));
}
