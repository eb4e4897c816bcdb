// Measures how the cost of a trigger grows with the number of bindings and zones.
#include "ratios.h"

#include <kiai/workshop/workshop.h>

#include <cmath>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <memory>
#include <sstream>
#include <unistd.h>
#include <unordered_map>

namespace {

namespace fs = std::filesystem;

constexpr int reports = 4000;

/// An engine with a project of that many bindings and zones. Each zone is bound.
struct Bench {
    Bench(int notices, int zones) {
        const fs::path folder = fs::temp_directory_path() / ("kiai-bench-triggers-" + std::to_string(getpid()));
        fs::create_directories(folder);
        std::ofstream toml(folder / "kiai.toml");
        toml << "format = 1\n";
        side = static_cast<int>(std::ceil(std::sqrt(zones)));
        for (int z = 0; z < zones; ++z) {
            const int x = z % side * 20, y = z / side * 20;
            toml << "[zone.z" << z << "]\ncircle = { x = " << x << ", y = " << y << ", r = 12 }\n";
            toml << "[[binding]]\ntrigger = { press = \"z" << z << "\" }\naction = { nothing = true }\n";
        }
        for (int n = 0; n < notices; ++n)
            toml << "[[binding]]\ntrigger = { notice = \"n" << n << "\" }\naction = { nothing = true }\n";
        for (int i = 0; i < reports && notices > 0; ++i) names.push_back("n" + std::to_string(i * 7919 % notices));
        toml.close();
        engine = std::make_unique<kiai::Engine>(kiai::load_project(folder).project,
                                                kiai::EngineSettings{.seed = 1, .reports = 8192});
        engine->set_log([this](const kiai::Decision&) { ++decided; });
        engine->set_findings({});
        std::istringstream header(kiai::names_header(folder).text); // as an app's compiler sees it
        std::unordered_map<std::string, std::uint32_t> numbers;
        for (std::string line; std::getline(header, line);)
            if (const std::size_t at = line.find("{\""); at != std::string::npos) {
                const std::size_t end = line.find('"', at + 2);
                numbers[line.substr(at + 2, end - at - 2)] =
                    static_cast<std::uint32_t>(std::stoul(line.substr(end + 3)));
            }
        for (const std::string& name : names) constants.emplace_back(name, numbers.at(name));
        fs::remove_all(folder);
    }
    /// Gives the same notices by the constants of the names header.
    void give_constants() {
        for (const kiai::NoticeName name : constants) engine->notice(name);
        engine->render(block);
        given = true;
    }
    /// Gives notices from all over the list. Each is bound.
    void give() {
        for (int i = 0; i < reports; ++i) engine->notice(names[static_cast<std::size_t>(i)]);
        engine->render(block);
        given = true;
    }
    void press() {
        for (int i = 0; i < reports / 2; ++i) {
            const int at = i * 7919 % (side * side);
            engine->press({static_cast<float>(at % side * 20), static_cast<float>(at / side * 20)});
            engine->release();
        }
        engine->render(block);
        given = true;
    }
    void read() {
        if (!given) return;
        decided = 0;
        engine->poll();
        if (decided < reports / 2) std::abort(); // else reports were lost, and less was measured
        given = false;
    }

    int side = 1, decided = 0;
    bool given = false;
    std::vector<std::string> names; ///< all over the list, in the order in which they are reported
    std::vector<kiai::NoticeName> constants;
    std::unique_ptr<kiai::Engine> engine;
    std::vector<float> block = std::vector<float>(2);
};

} // namespace

int main(int count, char** arguments) {
    Bench few(10, 0), many(100000, 0), few_zones(0, 10), many_zones(0, 10000);
    const auto giving = [](Bench& bench) { return [&bench] { bench.give(); }; };
    const auto giving_constants = [](Bench& bench) { return [&bench] { bench.give_constants(); }; };
    const auto pressing = [](Bench& bench) { return [&bench] { bench.press(); }; };
    const auto read = [&] {
        for (Bench* bench : {&few, &many, &few_zones, &many_zones}) bench->read();
    };
    const std::vector<bench::Pair> pairs{
        {"a notice among 10 bindings", "among 100,000", reports, giving(few), giving(many), {}, {}, "at most 2x", read},
        {"a press or release among 10 zones",
         "among 10,000",
         reports,
         pressing(few_zones),
         pressing(many_zones),
         {},
         {},
         "at most 2x",
         read},
        {"a notice by its constant, among 10",
         "among 100,000",
         reports,
         giving_constants(few),
         giving_constants(many),
         {},
         {},
         "at most 2x",
         read},
        {"a notice by its constant, among 100,000",
         "by its text",
         reports,
         giving_constants(many),
         giving(many),
         {},
         {},
         "",
         read},
    };
    return bench::run(count, arguments, pairs, "trigger");
}
