// kiai hear: one sound, several times, to the device or to a file.
#include "command.h"
#include "outputs.h"

#include <kiai/open.h>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <chrono>
#include <iostream>
#include <memory>
#include <thread>
#include <unistd.h>

namespace kiai::tool {
namespace {

struct Arguments {
    std::vector<std::string> words;
    HearSettings settings;
    Outputs outputs;
    bool json = false;
};

/// One line per play: when, which takes, and how loud it came out.
void print_plays(const Rehearsal& rehearsal) {
    for (const Decision& decision : rehearsal.decisions) {
        const double at = static_cast<double>(decision.frame) / rehearsal.sample_rate;
        if (decision.outcome == Outcome::ended)
            std::cout << fmt::format("{:7.3f} s    {}\n", at, describe(decision));
        else
            std::cout << fmt::format("{:7.3f} s  {}\n", at, describe(decision));
    }
}

nlohmann::ordered_json plays_json(const Rehearsal& rehearsal) {
    nlohmann::ordered_json plays = nlohmann::ordered_json::array();
    for (const Decision& decision : rehearsal.decisions) {
        if (decision.outcome == Outcome::played) {
            nlohmann::ordered_json play{{"name", decision.sound}, {"frame", decision.frame}, {"play", decision.play}};
            for (const LayerTake& layer : decision.layers)
                play["layers"].push_back({{"clip", layer.clip},
                                          {"take", layer.number},
                                          {"of", layer.of},
                                          {"pitch", layer.pitch},
                                          {"gain", layer.gain},
                                          {"pan", layer.pan}});
            plays.push_back(std::move(play));
        }
        if (decision.outcome == Outcome::ended)
            for (auto& play : plays)
                if (play["play"] == decision.play)
                    play.update({{"length", decision.length}, {"level", decision.level}});
    }
    return plays;
}

/// The same plays as the rehearsal's, on the device: the same seed draws the same.
Status to_device(const Project& project, const Rehearsal& rehearsal) {
    Engine engine(project, {.sample_rate = rehearsal.sample_rate, .seed = rehearsal.seed});
    engine.set_log({});
    Speaker speaker(engine);
    if (!speaker.wait_until_open()) {
        say_error("nothing can be heard (" + speaker.status() + "); write a file with --out");
        return failed;
    }
    const Frames begin = engine.now() + rehearsal.sample_rate / 10, end = begin + rehearsal.length;
    for (const Decision& decision : rehearsal.decisions)
        if (decision.outcome == Outcome::played)
            engine.report({ReportKind::play, decision.sound, {}, {}, 0, {}}, begin + decision.frame);
    while (engine.now() < end + engine.latency() + rehearsal.sample_rate / 10) {
        if (engine.looping() > 0 && engine.now() >= end - rehearsal.sample_rate / 5) engine.stop_loops();
        engine.poll();
        std::this_thread::sleep_for(std::chrono::milliseconds(10));
    }
    return done;
}

Status run(Arguments arguments) {
    const auto folder = take_project(arguments.words, 1);
    if (arguments.words.empty()) {
        say_error("no sound is named; name one: kiai hear PROJECT NAME");
        return wrong_use;
    }
    const bool to_file = !arguments.outputs.sound.empty();
    if (!to_file && isatty(STDOUT_FILENO) != 1) {
        say_error("there is no terminal to hear from; write a file with --out FILE.wav");
        return wrong_use;
    }
    const Loaded loaded = load_or_say(folder);
    const std::string& name = arguments.words.front();
    const Rehearsal rehearsal = hear(loaded.project, name, arguments.settings);
    for (const Decision& decision : rehearsal.decisions) {
        if (decision.outcome != Outcome::unknown_name) continue;
        say_error(fmt::format("no sound or clip is named \"{}\"; {}", name,
                              decision.nearest.empty() ? "kiai list shows all"
                                                       : fmt::format("did you mean \"{}\"?", decision.nearest)));
        return failed;
    }
    arguments.outputs.title =
        fmt::format("{}: {} heard {}", loaded.project.name(), name,
                    arguments.settings.times == 1 ? "once" : fmt::format("{} times", arguments.settings.times));
    if (!write_outputs(rehearsal, arguments.outputs)) return failed;
    if (arguments.json)
        std::cout << plays_json(rehearsal).dump(2) << '\n';
    else
        print_plays(rehearsal);
    return to_file ? done : to_device(loaded.project, rehearsal);
}

} // namespace

void add_hear(CLI::App& app, Chosen& chosen) {
    auto arguments = std::make_shared<Arguments>();
    CLI::App& command = declare(app, "hear", "Play one sound by itself, several times",
                                "kiai hear marble-run oak --times 9 --seed 3 --out oak.wav");
    command.add_option("what", arguments->words, "The project's folder, then the name of a sound or a clip")
        ->expected(1, 2)
        ->required();
    command.add_option("--times", arguments->settings.times, "How often")
        ->capture_default_str()
        ->check(CLI::Range(1, 10000));
    command.add_option("--seed", arguments->settings.seed, "Seed of all chance")->capture_default_str();
    command.add_option("--out", arguments->outputs.sound, "Write a file instead: WAV, 32-bit float, stereo");
    command.add_option("--picture", arguments->outputs.picture, "Write a picture of the plays: PNG");
    command.add_flag("--json", arguments->json, "Print the plays as JSON");
    command.callback([arguments, &chosen] { chosen = [arguments] { return run(*arguments); }; });
}

} // namespace kiai::tool
