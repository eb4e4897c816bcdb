// Measures an engine under load: how long a block with ten thousand triggers takes, and how the cost grows with the
// project.
//   kiai_bench_load [--repeats N] [--json FILE] [--picture FILE]
#include "workshop/draw/paper.h"

#include <kiai/workshop/workshop.h>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <iostream>
#include <malloc.h>
#include <unistd.h>

namespace {

namespace fs = std::filesystem;
using Clock = std::chrono::steady_clock;

constexpr int rate = 48000, storm = 10000, sounding = 1000, hums = 4;

double seconds_of(const std::function<void()>& work) {
    const auto begin = Clock::now();
    work();
    return std::chrono::duration<double>(Clock::now() - begin).count();
}

/// Makes a project with that many clips and that many bindings of notices. The first clip is an endless hum.
kiai::Project project_of(int clips, int bindings, int pitch = 0) {
    const fs::path folder = fs::temp_directory_path() / ("kiai-bench-load-" + std::to_string(getpid()));
    fs::create_directories(folder);
    std::vector<float> tone(2 * 4800);
    for (std::size_t i = 0; i < tone.size(); ++i)
        tone[i] = 0.001f * static_cast<float>(std::sin(0.05 * static_cast<double>(i / 2)));
    kiai::write_wav(folder / "tone.wav", tone, rate);
    std::ofstream toml(folder / "kiai.toml");
    toml << "format = 1\n[clip]\n";
    for (int c = 0; c < clips; ++c) toml << "c" << c << " = \"tone.wav\"\n";
    for (int h = 0; h < hums; ++h)
        toml << "[sound.hum" << h << "]\ntakes = [\"c0\"]\nloop = true\npitch = " << pitch
             << "\nlimit = { plays = 1000 }\n";
    toml << "[sound.knock]\ntakes = [\"c0\"]\nvary = { pitch = 2, gain = 3 }\nlimit = { plays = 8, gap = \"1 ms\" }\n";
    toml << "[[binding]]\ntrigger = { contact = [\"ball\", \"ball\"] }\naction = { play = \"knock\" }\n";
    for (int b = 0; b < bindings; ++b)
        toml << "[[binding]]\ntrigger = { notice = \"n" << b << "\" }\naction = { play = \"knock\" }\n";
    toml.close();
    kiai::Project project = kiai::load_project(folder).project;
    fs::remove_all(folder);
    return project;
}

struct LoadResult {
    LoadResult(const kiai::Project& project, int loops)
        : engine(project, {.seed = 1, .voices = std::max(64, loops + 200), .reports = 16384}) {
        engine.set_log({});
        engine.set_findings({});
        for (int i = 0; i < loops; ++i) {
            engine.play("hum" + std::to_string(i % hums));
            if (i % 4000 == 3999) render(1);
        }
        render(64);
        if (engine.sounding() != loops) std::abort(); // else nothing would be measured
    }
    void render(int frames) {
        engine.render(std::span(block, 2 * static_cast<std::size_t>(frames)));
        engine.poll();
    }
    kiai::Engine engine;
    float block[2 * 4096] = {};
};

struct Spread {
    int frames = 0;
    std::vector<double> parts; ///< of the block's own time, sorted
    double at(double part) const {
        const double place = part * static_cast<double>(parts.size() - 1);
        return parts[static_cast<std::size_t>(place + 0.5)];
    }
};

/// A fixed piece of arithmetic that reads no memory. Its time varies only with the speed of the processor.
void arithmetic() {
    std::uint64_t number = 1;
    for (int i = 0; i < 800000; ++i) number = number * 6364136223846793005u + 1442695040888963407u;
    asm volatile("" : : "r"(number)); // else the compiler leaves it out
}

constexpr double marks[] = {0.5, 0.99, 0.999, 0.9999, 1};

/// Renders `repeats` blocks of `frames` with `voices` sounding. `report` is called before each block, with its number.
/// `machine` receives the times of `arithmetic`, which runs after each block, as multiples of the shortest.
Spread blocks_with(const kiai::Project& project, int voices, int frames, int repeats,
                   const std::function<void(kiai::Engine&, int)>& report, Spread* machine = nullptr) {
    LoadResult loaded(project, voices);
    Spread spread;
    spread.frames = frames;
    for (int turn = 0; turn < repeats + 5; ++turn) {
        report(loaded.engine, turn);
        const double took =
            seconds_of([&] { loaded.engine.render(std::span(loaded.block, 2 * static_cast<std::size_t>(frames))); });
        loaded.engine.poll();
        if (turn < 5) continue;
        spread.parts.push_back(took * rate / frames);
        if (machine) machine->parts.push_back(seconds_of(arithmetic));
    }
    std::sort(spread.parts.begin(), spread.parts.end());
    if (machine) {
        std::sort(machine->parts.begin(), machine->parts.end());
        const double shortest = machine->parts.front();
        for (double& part : machine->parts) part /= shortest;
    }
    return spread;
}

void storm_of_notices(kiai::Engine& engine, int /*turn*/) {
    static const std::string names[] = {"n0", "n1", "n2", "n3", "n4", "n5", "n6", "n7", "n8", "n9"};
    for (int i = 0; i < storm; ++i) engine.notice(names[i % 10]);
}

/// Moves 512 bodies across a field so that some of them touch in each block.
void moving_bodies(kiai::Engine& engine, int turn) {
    for (std::uint64_t i = 0; i < 512; ++i) {
        const double angle = 0.01 * turn * (1 + static_cast<double>(i % 7)) + static_cast<double>(i);
        const float x = static_cast<float>(40.0 * static_cast<double>(i % 23) + 30 * std::cos(angle)),
                    y = static_cast<float>(40.0 * static_cast<double>(i / 23) + 30 * std::sin(angle));
        engine.body(i + 1, "ball", {x, y}, 8);
    }
}

/// Starts a thousand contacts in even turns and ends them in odd turns.
void contacts_in_turn(kiai::Engine& engine, int turn) {
    for (std::uint64_t pair = 1; pair <= 1000; ++pair) {
        if (turn % 2 == 0)
            engine.contact("ball", "ball", {.strength = 0.5f, .pair = pair});
        else
            engine.contact_end(pair);
    }
}

/// Returns the median time of several turns, in seconds.
double middle(int turns, const std::function<double()>& turn) {
    std::vector<double> took;
    for (int i = 0; i < turns; ++i) took.push_back(turn());
    std::nth_element(took.begin(), took.begin() + turns / 2, took.end());
    return took[static_cast<std::size_t>(turns / 2)];
}

struct Growth {
    std::string what;
    std::vector<std::pair<int, double>> points; ///< how many, nanoseconds each
};

Growth voices(const char* what, int pitch) {
    Growth growth{what, {}};
    const kiai::Project project = project_of(1, 1, pitch);
    for (const int count : {1, 10, 100, 1000, 4000}) {
        LoadResult loaded(project, count);
        const int blocks = std::max(3, 2000 / count);
        const double took = middle(15, [&] {
            return seconds_of([&] {
                for (int i = 0; i < blocks; ++i) loaded.render(256);
            });
        });
        growth.points.emplace_back(count, took / blocks / 256 / count * 1e9);
    }
    return growth;
}

/// `names`: the notices to give, in turn; 0: all of them.
Growth triggers(const char* what, const std::vector<int>& counts, int names,
                const std::function<kiai::Project(int)>& made) {
    Growth growth{what, {}};
    for (const int count : counts) {
        LoadResult loaded(made(count), 0);
        const int last = names > 0 ? names : count;
        const double took = middle(31, [&] {
            return seconds_of([&] {
                for (int i = 0; i < 2000; ++i) loaded.engine.notice("n" + std::to_string(i * 7919 % last));
                loaded.render(1);
            });
        });
        growth.points.emplace_back(count, took / 2000 * 1e9);
    }
    return growth;
}

void draw(const std::string& file, const std::vector<Spread>& spreads) {
    using namespace kiai::workshop;
    constexpr int width = 1280, height = 520;
    constexpr double left = 90, right = 1000, top = 70, bottom = 460, low = 0.1, high = 30;
    Paper sheet(width, height);
    sheet.text(16, 24, fmt::format("{} triggers in one block, {} voices sounding", storm, sounding), 17, black, true);
    const auto y_of = [&](double part) {
        return bottom - std::log10(part / low) / std::log10(high / low) * (bottom - top);
    };
    const auto x_of = [&](double part) { // by how rare it is: 1 in 2 … 1 in 10,000
        return left + std::min(1.0, std::log10(1 / std::max(1e-4, 2 * (1 - part))) / 4) * (right - left);
    };
    for (const double part : {0.1, 0.3, 1.0, 3.0, 10.0, 30.0}) {
        sheet.line(left, y_of(part), right, y_of(part), part == 1.0 ? red : pale, part == 1.0 ? 1.4 : 0.6);
        sheet.text(16, y_of(part), fmt::format("{:g}", part), 11, part == 1.0 ? red : grey);
    }
    sheet.text(right + 8, y_of(1), "real time", 11, red);
    for (const auto& [part, words] : std::vector<std::pair<double, const char*>>{
             {0.5, "median"}, {0.99, "p99"}, {0.999, "p99.9"}, {0.9999, "p99.99"}}) {
        sheet.line(x_of(part), top, x_of(part), bottom, pale, 0.6);
        sheet.text(x_of(part) + 3, bottom + 12, words, 11, grey);
    }
    sheet.text(16, top - 22,
               "time to render a block, as a share of its duration; from the median to the slowest blocks", 11, grey);
    const Ink inks[] = {grey, amber, wave, black};
    double label = top + 10;
    for (std::size_t s = 0; s < spreads.size(); ++s) {
        double x = -1, y = 0;
        for (double place = 0; place <= 4; place += 0.05) {
            const double part = 1 - 0.5 * std::pow(10, -place);
            const double here_x = x_of(part), here_y = y_of(std::clamp(spreads[s].at(part), low, high));
            if (x >= 0) sheet.line(x, y, here_x, here_y, inks[s % 4], 1.8);
            x = here_x, y = here_y;
        }
        sheet.line(right + 30, label, right + 52, label, inks[s % 4], 1.8);
        sheet.text(right + 60, label,
                   fmt::format("blocks of {} frames, max {:.2f}", spreads[s].frames, spreads[s].parts.back()), 11,
                   black);
        label += 20;
    }
    if (const std::string error = sheet.save(file); !error.empty()) std::cerr << error << '\n';
}

nlohmann::ordered_json print(const Spread& spread, const std::string& what) {
    std::cout << fmt::format("{:>6}", what);
    nlohmann::ordered_json row{{"frames", spread.frames}, {"what", what}};
    for (const double mark : marks) {
        std::cout << fmt::format("  {:>7.3f}", spread.at(mark));
        row["parts"].push_back(spread.at(mark));
    }
    std::cout << '\n';
    return row;
}

/// Measures an engine with an empty project: the first of the process, which also makes the filters, and later ones.
nlohmann::ordered_json empty_engines() {
    nlohmann::ordered_json rows = nlohmann::json::array();
    std::cout << "An engine with an empty project: MB on the heap, ms to make it\n";
    for (const char* which : {"first", "second", "third"}) {
        const auto heap = [] {
            const auto info = mallinfo2();
            return static_cast<double>(info.uordblks + info.hblkhd) / 1e6;
        };
        const double before = heap();
        const auto begin = std::chrono::steady_clock::now();
        const kiai::Engine engine{kiai::Project()};
        const double ms = std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - begin).count();
        rows.push_back({{"which", which}, {"MB", heap() - before}, {"ms", ms}});
        std::cout << fmt::format("{:<8} {:>6.1f} {:>6.1f}\n", which, heap() - before, ms);
    }
    std::cout << '\n';
    return rows;
}

} // namespace

int main(int count, char** arguments) {
    int repeats = 10000;
    std::string json, picture;
    for (int i = 1; i + 1 < count; i += 2) {
        const std::string option = arguments[i];
        if (option == "--repeats") repeats = std::max(1, std::atoi(arguments[i + 1]));
        if (option == "--json") json = arguments[i + 1];
        if (option == "--picture") picture = arguments[i + 1];
    }
    nlohmann::ordered_json out{{"repeats", repeats}, {"empty", empty_engines()}};
    const kiai::Project project = project_of(10, 10);
    std::vector<Spread> spreads;
    std::cout << fmt::format(
        "{} triggers due in one block, {} voices sounding: time of the block in parts of what it lasts, {} repeats\n",
        storm, sounding, repeats);
    std::cout << "beside: a fixed piece of arithmetic after each block, as a multiple of its shortest time\n"
                 "frames   median      p99    p99.9   p99.99      max\n";
    out["storm"] = out["machine"] = out["growth"] = nlohmann::json::array();
    for (const int frames : {64, 128, 256, 512}) {
        Spread machine{frames, {}};
        const Spread& spread =
            spreads.emplace_back(blocks_with(project, sounding, frames, repeats, storm_of_notices, &machine));
        out["storm"].push_back(print(spread, std::to_string(frames)));
        out["machine"].push_back(print(machine, "beside"));
    }
    std::cout << "\nOther work in a block of 256 frames, in the same unit and columns\n";
    const std::pair<const char*, std::function<void(kiai::Engine&, int)>> works[] = {
        {"512 bodies moved", moving_bodies},
        {"1,000 contacts begin or end", contacts_in_turn},
        {"no report", [](kiai::Engine&, int) {}}};
    for (const int voices : {0, sounding})
        for (const auto& [what, report] : works)
            out["works"].push_back(print(blocks_with(project, voices, 256, std::min(repeats, 2000), report),
                                         fmt::format("{}, {} voices", what, voices)));
    const std::vector<Growth> growths{
        voices("ns per voice and frame of output, voices at +4 semitones", 4),
        voices("the same, unpitched", 0),
        triggers("ns per trigger, that many bindings", {10, 100, 1000, 10000, 100000}, 0,
                 [](int many) { return project_of(1, many); }),
        triggers("ns per trigger, that many clips", {10, 100, 1000, 10000}, 10,
                 [](int many) { return project_of(many, 10); }),
    };
    for (const Growth& growth : growths) {
        std::cout << '\n' << growth.what << '\n';
        nlohmann::ordered_json row{{"what", growth.what}};
        for (const auto& [many, each] : growth.points) {
            std::cout << fmt::format("{:>8}  {:>9.2f}\n", many, each);
            row["points"].push_back({many, each});
        }
        out["growth"].push_back(row);
    }
    if (!json.empty()) std::ofstream(json) << out.dump(2) << '\n';
    if (!picture.empty()) draw(picture, spreads);
}
