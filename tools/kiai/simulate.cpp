// kiai simulate: fires one trigger thousands of times.
#include "by_hand.h"
#include "claim.h"
#include "documents.h"

#include <kiai/workshop/picture.h>
#include <kiai/workshop/simulate.h>

#include <fmt/format.h>

#include <algorithm>
#include <iostream>
#include <memory>

namespace kiai::tool {
namespace {

struct SimulateArguments {
    ByHand by_hand;
    int binding = 0;
    SimulateSettings settings;
    double interval = 0.5;
    std::string picture;
    bool json = false;
};

constexpr int widest = 40; ///< characters of a bar

/// Returns a bar for the measured share, with a mark at the stated share if it is known.
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
        std::cout << fmt::format("    the same take twice in a row: {}\n",
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

Status run(SimulateArguments arguments) {
    ByHand& by_hand = arguments.by_hand;
    const auto folder = take_project(by_hand.words);
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
        std::cout << print_document(simulate_document, simulation);
    else
        print(simulation);
    return loaded.ok() ? done : failed;
}

} // namespace

static void describe_members(Shape<Histogram>& shape) {
    shape.has("low", "The lower end of the first bin.", &Histogram::low)
        .has("high", "The upper end of the last bin; equal to `low`: the number was always the same.", &Histogram::high)
        .has("counts", "How often the number came, per bin; the bins have the same width.", &Histogram::counts)
        .has("stated", "How often the project says that the number comes, in parts of 1 per bin.",
             [](const Histogram& bins) { return bins.stated.empty() ? std::nullopt : std::optional(bins.stated); })
        .has("difference", "The largest distance of the cumulated parts (Kolmogorov-Smirnov).",
             [](const Histogram& bins) { return bins.stated.empty() ? std::nullopt : std::optional(bins.difference); });
}

static void describe_members(Shape<SimulatedTake>& shape) {
    shape.has("clip", "The name of the clip.", &SimulatedTake::clip)
        .has("count", "How often the take was picked.", &SimulatedTake::count)
        .has("stated", "How often the project says that the take is picked, in parts of 1.", &SimulatedTake::stated);
}

static void describe_members(Shape<SimulatedLayer>& shape) {
    shape.has("layer", "The number of the layer, from 1.", &SimulatedLayer::layer)
        .has("heard", "The number of plays in which the layer was heard.", &SimulatedLayer::heard)
        .has("chance", "The chance of the layer, as the project states it.", &SimulatedLayer::chance)
        .has("pick", "How a take is picked.", &SimulatedLayer::pick)
        .one_of({"shuffle", "weighted", "cycle"})
        .has("takes", "The takes, in the order of kiai.toml.", &SimulatedLayer::takes)
        .has("same-twice", "How often the same take came twice in a row.", &SimulatedLayer::same_twice)
        .has("pitch", "The pitch in semitones.", &SimulatedLayer::pitch)
        .has("gain", "The gain in dB.", &SimulatedLayer::gain);
}

static void describe_members(Shape<SimulatedSound>& shape) {
    shape.has("name", "The name of the sound.", &SimulatedSound::sound)
        .has("plays", "The number of plays.", &SimulatedSound::plays)
        .has("refused", "The number of plays that each limit refused.", &SimulatedSound::refused)
        .has("stolen", "The number of plays that were stolen.", &SimulatedSound::stolen)
        .has("layers", "The layers of the sound.", &SimulatedSound::layers);
}

static void describe_members(Shape<Simulation>& shape) {
    shape.has("trigger", "The trigger that was fired: `contact marble+oak`.", &Simulation::trigger)
        .has("binding", "The number of the binding, from 1: those of `[[binding]]` first, then those inside zones.",
             &Simulation::binding)
        .has("times", "How often the trigger was fired.", &Simulation::times)
        .has("seed", "The seed of all chance.", &Simulation::seed)
        .has("kept", "How often each condition of the binding was false.", &Simulation::kept)
        .has("sounds", "The sounds that the binding plays.", &Simulation::sounds);
}

const Document simulate_document{"simulate", "The counts of `kiai simulate --json`", 1,
                                 [] { return shape_of<Simulation>().schema(); }};

void add_simulate(Commands& commands) {
    auto arguments = std::make_shared<SimulateArguments>();
    Command command = commands.add(Group::runs, "simulate", "Fire a trigger thousands of times, and count the results");
    command.project(arguments->by_hand.words,
                    {{"[TRIGGER…]", "press hopper, contact marble oak … (default: see --binding)", {}, {}}});
    command.option("--binding", arguments->binding, "NUMBER", "Fire the binding with this number").at_least(1);
    command.option("--times", arguments->settings.times, "COUNT", "How often to fire")
        .shows_default()
        .in_range(1, 1000000);
    command.time("--interval", arguments->interval, 0.01, 3600, "Time between two triggers");
    add_by_hand(command, arguments->by_hand);
    command.option("--picture", arguments->picture, "FILE", "Write the histograms: .png").completes(Completes::file);
    add_force(command);
    add_json(command, arguments->json);
    command.explain("Prints how often each take was picked, each limit refused, and how pitch and gain varied, next to "
                    "what the project states.");
    command.fails_if("the project has an error");
    command.example("kiai simulate marble-run contact marble oak --picture oak.png");
    command.runs([arguments] { return run(*arguments); });
}

} // namespace kiai::tool
