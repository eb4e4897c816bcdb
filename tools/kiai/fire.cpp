// kiai fire: makes triggers happen by hand, each in a fresh engine, and tells what was heard of them.
#include "command.h"
#include "table.h"

#include <kiai/fire.h>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <iostream>
#include <memory>

namespace kiai::tool {
namespace {

struct Arguments {
    std::vector<std::string> words;
    std::vector<int> bindings;
    std::vector<std::string> values;
    std::string trace;
    FireSettings settings;
    double listen = 10;
    bool json = false;
};

std::string outcome_of(const Fired& fired) {
    if (fired.heard) return "heard";
    if (fired.silent_by_design && fired.fired) return "done";
    return "silent";
}

std::string told(const Fired& fired) {
    if (fired.heard) return {};
    if (fired.good()) return "plays nothing, as it is meant to";
    const Why::Step* const broken = fired.why.broken();
    return broken ? fmt::format("{}: {}; {}", to_string(broken->link), broken->told, fired.why.mend) : "";
}

void print(const std::vector<Fired>& all) {
    Table table({"binding", "line", "trigger", "fired", "", "peak", "sounds", "why"});
    std::size_t heard = 0, meant = 0;
    for (const Fired& fired : all) {
        heard += fired.heard ? 1 : 0;
        meant += !fired.heard && fired.good() ? 1 : 0;
        table.add({std::to_string(fired.binding), std::to_string(fired.line), fired.trigger, fired.fired ? "yes" : "no",
                   outcome_of(fired), fired.level > -200 ? fmt::format("{:.1f} dBFS", fired.level) : "",
                   joined(fired.sounds, ", "), told(fired)});
    }
    table.print();
    std::cout << fmt::format("{}: {} heard, {} silent as meant, {} silent\n", counted(all.size(), "binding"), heard,
                             meant, all.size() - heard - meant);
}

nlohmann::ordered_json json_of(const std::vector<Fired>& all) {
    nlohmann::ordered_json out = nlohmann::json::array();
    for (const Fired& fired : all) {
        out.push_back({{"binding", fired.binding},
                       {"line", fired.line},
                       {"trigger", fired.trigger},
                       {"fired", fired.fired},
                       {"heard", fired.heard},
                       {"good", fired.good()},
                       {"level", fired.level},
                       {"sounds", fired.sounds}});
        if (const Why::Step* const broken = fired.why.broken(); broken && !fired.good())
            out.back().update({{"broken", to_string(broken->link)}, {"told", broken->told}, {"mend", fired.why.mend}});
    }
    return out;
}

/// Which bindings are meant; none, and a reason on standard error, where nothing answers.
std::vector<int> chosen_ones(const Project& project, const Arguments& arguments, bool& wrong) {
    std::vector<int> numbers = arguments.bindings;
    if (!arguments.words.empty()) {
        const std::string text = joined(arguments.words);
        const auto trigger = read_trigger(text);
        if (!trigger) {
            say_error(
                fmt::format("\"{}\" is no trigger; write press hopper, press 118 82, key-down KeyT, contact marble "
                            "oak, notice run-complete …",
                            text));
            wrong = true;
            return {};
        }
        for (const int number : bindings_to(project, *trigger)) numbers.push_back(number);
        if (numbers.empty()) std::cerr << why_silent(project, text).sentence() << '\n';
    }
    return numbers;
}

Status run(Arguments arguments) {
    const auto folder = take_project(arguments.words, std::string::npos);
    const Loaded loaded = load_or_say(folder);
    arguments.settings.listen = Seconds(arguments.listen);
    std::map<std::string, float> values;
    if (!take_values(arguments.values, "--value", values)) return wrong_use;
    for (const auto& [name, value] : values) arguments.settings.values.push_back({name, value});
    std::vector<Fired> all;
    if (arguments.words.empty() && arguments.bindings.empty()) {
        all = fire_all(loaded.project, arguments.settings);
    } else {
        bool wrong = false;
        const std::vector<int> numbers = chosen_ones(loaded.project, arguments, wrong);
        if (numbers.empty()) return wrong ? wrong_use : failed;
        for (const int number : numbers) all.push_back(fire(loaded.project, number, arguments.settings));
        if (!arguments.trace.empty()) {
            const std::string error =
                save_trace(arguments.trace, trace_of(loaded.project, numbers.front(), arguments.settings));
            if (!error.empty()) {
                say_error(error);
                return failed;
            }
            std::cerr << "wrote " << arguments.trace << '\n';
        }
    }
    if (arguments.json)
        std::cout << json_of(all).dump(2) << '\n';
    else
        print(all);
    bool good = loaded.ok();
    for (const Fired& fired : all) good = good && fired.good();
    return good ? done : failed;
}

} // namespace

void add_fire(CLI::App& app, Chosen& chosen) {
    auto arguments = std::make_shared<Arguments>();
    CLI::App& command = declare(app, "fire", "Make triggers happen by hand: all bindings, or those of one trigger",
                                "kiai fire marble-run\n  kiai fire marble-run contact marble oak --strength 0.3");
    command.add_option(
        "what", arguments->words,
        "The project's folder; then a trigger (press hopper, press 118 82); without one, each binding once");
    command.add_option("--binding", arguments->bindings, "Fire the n-th binding of kiai.toml");
    command.add_flag("--anyway", arguments->settings.anyway, "Set conditions aside; else they are as at the start");
    command.add_option("--strength", arguments->settings.strength, "Of contacts")
        ->capture_default_str()
        ->check(CLI::NonNegativeNumber);
    command.add_option("--place", arguments->settings.place, "Of contacts, left to right")
        ->capture_default_str()
        ->check(CLI::Range(-1.0, 1.0));
    command.add_option("--value", arguments->values, "A value of the notice: NAME=NUMBER");
    command.add_option("--seed", arguments->settings.seed, "Seed of all chance")->capture_default_str();
    command.add_option("--listen", arguments->listen, "Seconds after the trigger in which something is to be heard")
        ->capture_default_str()
        ->check(CLI::Range(0.1, 3600.0));
    command.add_option("--trace", arguments->trace, "Write what was reported as a trace, to rehearse it: JSON Lines");
    command.add_flag("--json", arguments->json, "Print the list as JSON");
    command.callback([arguments, &chosen] { chosen = [arguments] { return run(*arguments); }; });
}

} // namespace kiai::tool
