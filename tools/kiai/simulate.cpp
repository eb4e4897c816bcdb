// kiai simulate: one trigger, thousands of times.
#include "by_hand.h"
#include "claim.h"

#include <kiai/workshop/picture.h>
#include <kiai/workshop/simulate.h>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <iostream>
#include <memory>

namespace kiai::tool {
namespace {

struct Arguments {
    ByHand by_hand;
    int binding = 0;
    SimulateSettings settings;
    double interval = 0.5;
    std::string picture;
    bool json = false;
};

constexpr int widest = 40; ///< characters of a bar

/// As long as what came; a stroke stands at what is stated, where that is known.
std::string bar(double part, double stated, double most) {
    const auto place = [&](double value) {
        return most > 0 ? static_cast<std::size_t>(value / most * widest + 0.5) : 0;
    };
    std::string text(std::max<std::size_t>(part > 0 ? 1 : 0, place(part)), '#');
    text.resize(widest + 1, ' ');
    if (stated >= 0) text[place(stated)] = '|';
    return text;
}

void print(const Histogram& histogram, const char* what, const char* unit) {
    if (histogram.counts.empty()) {
        std::cout << fmt::format("    {}: always {:+.2f} {}\n", what, histogram.low, unit);
        return;
    }
    double all = 0, most = 0;
    for (const int count : histogram.counts) all += count;
    for (std::size_t b = 0; b < histogram.counts.size(); ++b)
        most = std::max({most, histogram.counts[b] / all, histogram.stated.empty() ? 0 : histogram.stated[b]});
    std::cout << fmt::format("    {}: {:+.2f} to {:+.2f} {}{}\n", what, histogram.low, histogram.high, unit,
                             histogram.stated.empty()
                                 ? ""
                                 : fmt::format(", furthest from what is stated {:.2f} %", 100 * histogram.difference));
    const double width = (histogram.high - histogram.low) / static_cast<double>(histogram.counts.size());
    for (std::size_t b = 0; b < histogram.counts.size(); ++b) {
        const double part = histogram.counts[b] / all, stated = histogram.stated.empty() ? -1 : histogram.stated[b];
        std::cout << fmt::format("    {:>+7.2f}  {}  {:>5.1f} %{}\n", histogram.low + width * static_cast<double>(b),
                                 bar(part, stated, most), 100 * part,
                                 stated < 0 ? "" : fmt::format("  stated {:>5.1f} %", 100 * stated));
    }
}

void print(const SimulatedLayer& layer, int plays) {
    std::cout << fmt::format("  layer {}: heard in {} of {} plays{}; {} of {}\n", layer.layer, layer.heard, plays,
                             layer.chance < 1 ? fmt::format(" (chance {:g})", layer.chance) : "", layer.pick,
                             counted(layer.takes.size(), "take"));
    double most = 0;
    std::size_t name = 0;
    for (const SimulatedTake& take : layer.takes) {
        most = std::max({most, static_cast<double>(take.count) / std::max(1, layer.heard), take.stated});
        name = std::max(name, take.clip.size());
    }
    for (const SimulatedTake& take : layer.takes) {
        const double part = static_cast<double>(take.count) / std::max(1, layer.heard);
        std::cout << fmt::format("    {:<{}}  {}  {:>5.1f} %  stated {:>5.1f} %\n", take.clip, name,
                                 bar(part, take.stated, most), 100 * part, 100 * take.stated);
    }
    if (layer.takes.size() > 1)
        std::cout << fmt::format("    the same take twice running: {}\n",
                                 layer.same_twice == 0 ? "never"
                                                       : counted(static_cast<std::size_t>(layer.same_twice), "time"));
    print(layer.pitch, "pitch", "st");
    print(layer.gain, "gain", "dB");
}

void print(const Simulation& simulation) {
    std::cout << fmt::format("{} fired {} times, seed {}\n", simulation.trigger, simulation.times, simulation.seed);
    for (const auto& [rule, count] : simulation.kept) std::cout << fmt::format("`{}` kept it {} times\n", rule, count);
    if (simulation.sounds.empty()) std::cout << "it plays nothing\n";
    for (const SimulatedSound& sound : simulation.sounds) {
        std::string refused;
        for (const auto& [rule, count] : sound.refused) refused += fmt::format(", {} refused by {}", count, rule);
        std::cout << fmt::format("{}: {}{}{}\n", sound.sound, counted(static_cast<std::size_t>(sound.plays), "play"),
                                 refused, sound.stolen > 0 ? fmt::format(", {} stolen", sound.stolen) : "");
        for (const SimulatedLayer& layer : sound.layers)
            if (layer.heard > 0) print(layer, sound.plays);
    }
}

nlohmann::ordered_json json_of(const Histogram& histogram) {
    nlohmann::ordered_json out{{"low", histogram.low}, {"high", histogram.high}, {"counts", histogram.counts}};
    if (!histogram.stated.empty()) out.update({{"stated", histogram.stated}, {"difference", histogram.difference}});
    return out;
}

nlohmann::ordered_json json_of(const Simulation& simulation) {
    nlohmann::ordered_json out{{"trigger", simulation.trigger}, {"binding", simulation.binding},
                               {"times", simulation.times},     {"seed", simulation.seed},
                               {"kept", simulation.kept},       {"sounds", nlohmann::json::array()}};
    for (const SimulatedSound& sound : simulation.sounds) {
        nlohmann::ordered_json one{{"name", sound.sound},
                                   {"plays", sound.plays},
                                   {"refused", sound.refused},
                                   {"stolen", sound.stolen},
                                   {"layers", nlohmann::json::array()}};
        for (const SimulatedLayer& layer : sound.layers) {
            nlohmann::ordered_json takes = nlohmann::json::array();
            for (const SimulatedTake& take : layer.takes)
                takes.push_back({{"clip", take.clip}, {"count", take.count}, {"stated", take.stated}});
            one["layers"].push_back({{"layer", layer.layer},
                                     {"heard", layer.heard},
                                     {"chance", layer.chance},
                                     {"pick", layer.pick},
                                     {"takes", std::move(takes)},
                                     {"same-twice", layer.same_twice},
                                     {"pitch", json_of(layer.pitch)},
                                     {"gain", json_of(layer.gain)}});
        }
        out["sounds"].push_back(std::move(one));
    }
    return out;
}

Status run(Arguments arguments) {
    ByHand& by_hand = arguments.by_hand;
    const auto folder = take_project(by_hand.words, std::string::npos);
    if (by_hand.words.empty() && arguments.binding == 0) {
        say_error("no trigger is named; name one: kiai simulate PROJECT contact marble oak");
        return wrong_use;
    }
    const LoadResult loaded = load_or_say(folder);
    int binding = arguments.binding;
    if (binding == 0) {
        Status status = done;
        const std::vector<int> named = bindings_named(loaded.project, by_hand, status);
        if (named.empty()) return status;
        binding = named.front();
        if (named.size() > 1)
            std::cerr << fmt::format("{} bindings answer it; this is binding {}, choose another with --binding\n",
                                     named.size(), binding);
    }
    if (!take_values(by_hand)) return wrong_use;
    SimulateSettings& settings = arguments.settings;
    settings.fire = by_hand.settings;
    settings.interval = Seconds(arguments.interval);
    settings.progress = progress_line("times");
    if (const Status status = claim_output(arguments.picture, {".png"}, picture_mark); status != done) return status;
    const Simulation simulation = simulate(loaded.project, binding, settings);
    if (!simulation.impossible.empty()) {
        say_error(simulation.impossible + "; choose another binding: kiai list bindings");
        return failed;
    }
    if (!arguments.picture.empty()) {
        const std::string error = draw_simulation(
            arguments.picture, simulation,
            {.title = fmt::format("{}: {}, {} times", loaded.project.name(), simulation.trigger, simulation.times)});
        if (!error.empty()) {
            say_error(error);
            return not_written;
        }
        std::cerr << "wrote " << arguments.picture << '\n';
    }
    if (arguments.json)
        std::cout << json_of(simulation).dump(2) << '\n';
    else
        print(simulation);
    return loaded.ok() ? done : failed;
}

} // namespace

void add_simulate(Commands& commands) {
    auto arguments = std::make_shared<Arguments>();
    Command command = commands.add(
        "simulate", "Fire one trigger thousands of times: what is picked, drawn and refused, and how often",
        "kiai simulate marble-run contact marble oak --picture oak.png");
    command.option("what", arguments->by_hand.words,
                   "The project's folder; then a trigger (press hopper, contact marble oak)");
    command.option("--binding", arguments->binding, "The n-th binding of kiai.toml instead").at_least(1);
    command.option("--times", arguments->settings.times, "How often").shows_default().in_range(1, 1000000);
    command.option("--interval", arguments->interval, "Seconds from one to the next")
        .shows_default()
        .in_range(0.01, 3600.0);
    add_by_hand(command, arguments->by_hand);
    command.option("--picture", arguments->picture, "Write the histograms: PNG");
    add_force(command);
    command.flag("--json", arguments->json, "Print the counts as JSON");
    command.runs([arguments] { return run(*arguments); });
}

} // namespace kiai::tool
