// kiai hear: plays one sound several times, to the device or to a file.
#include "claim.h"
#include "command.h"
#include "documents.h"
#include "listen.h"
#include "outputs.h"

#include <kiai/workshop/picture.h>

#include <fmt/format.h>

#include <iostream>
#include <map>
#include <memory>
#include <unistd.h>

namespace kiai::tool {
namespace {

struct Arguments {
    Operands words;
    HearSettings settings;
    Outputs outputs;
    std::string beside;
    std::vector<std::string> dials, values;
    SpeakerSettings speaker;
    bool devices = false;
    double gap = 0.1, loop = 2;
    bool json = false;
};

/// A play, and its end if it ended.
struct HeardPlay {
    Decision played;
    std::optional<Decision> ended;
};

struct HeardPlays {
    std::vector<HeardPlay> plays;
};

HeardPlays plays_of(const Rehearsal& rehearsal) {
    HeardPlays heard;
    for (const Decision& decision : rehearsal.decisions) {
        if (decision.outcome == Outcome::played) heard.plays.push_back({decision, {}});
        if (decision.outcome == Outcome::ended)
            for (HeardPlay& one : heard.plays)
                if (one.played.play == decision.play) one.ended = decision;
    }
    return heard;
}

/// Reports what cannot be heard; returns true if everything can.
bool all_there(const Rehearsal& rehearsal, const HearSettings& settings) {
    const std::string no_layer =
        fmt::format("the sound has no layer {}; `kiai show` lists its layers", settings.options.layer);
    bool heard = false;
    for (const Decision& decision : rehearsal.decisions) {
        const std::string near =
            decision.nearest.empty() ? std::string() : fmt::format("; did you mean \"{}\"?", decision.nearest);
        heard = heard || !decision.layers.empty();
        if (decision.outcome == Outcome::unknown_name) {
            say_error(decision.excluded ? fmt::format("\"{}\" has an error in kiai.toml; run kiai check", decision.on)
                                        : fmt::format("unknown {} \"{}\"{}",
                                                      decision.trigger == ReportKind::dial ? "dial" : "sound or clip",
                                                      decision.on, near));
            return false;
        }
        if (decision.outcome == Outcome::unknown_value) {
            say_error(fmt::format("no follow of {} has a value \"{}\"{}", decision.sound, decision.on, near));
            return false;
        }
        if (decision.outcome != Outcome::out_of_range) continue;
        if (settings.options.layer > 0 && decision.trigger == ReportKind::play) {
            say_error(no_layer);
            return false;
        }
        say_error(fmt::format("{} was clamped to its range", decision.on));
    }
    if (!heard && settings.options.layer > 0) say_error(no_layer);
    return heard || settings.options.layer == 0;
}

Status run(Arguments arguments) {
    if (arguments.devices) {
        print_devices();
        return done;
    }
    const auto folder = take_project(arguments.words);
    if (arguments.words.empty()) {
        throw WrongUse("missing NAME; usage: " + usage_of(*arguments.words.command));
    }
    const bool to_file = !arguments.outputs.sound.empty();
    if (!to_file && isatty(STDOUT_FILENO) != 1) {
        say_error("standard output is not a terminal; write a file with --out FILE.wav");
        return wrong_use;
    }
    if (const Status status = claim_output(arguments.outputs.sound, {".wav"}, sound_mark); status != done)
        return status;
    if (const Status status = claim_output(arguments.outputs.picture, {".png"}, picture_mark); status != done)
        return status;
    HearSettings& settings = arguments.settings;
    settings.gap = Seconds(arguments.gap);
    settings.loop = Seconds(arguments.loop);
    if (!take_values(arguments.dials, "--dial", settings.dials) ||
        !take_values(arguments.values, "--value", settings.values))
        return wrong_use;
    const LoadResult loaded = load_or_say(folder);
    const std::string& name = arguments.words.front();
    std::string title = fmt::format("{}: {} heard {}", loaded.project.name(), name,
                                    settings.times == 1 ? "once" : fmt::format("{} times", settings.times));
    Comparison compared;
    if (arguments.beside.empty()) {
        compared.rehearsal = hear(loaded.project, name, settings);
    } else {
        compared = compare(loaded.project, name, arguments.beside, settings);
        title += ", then " + arguments.beside;
    }
    const Rehearsal& rehearsal = compared.rehearsal;
    if (!all_there(rehearsal, settings)) return failed;
    arguments.outputs.title = title;
    if (!write_sound(rehearsal, arguments.outputs) ||
        !(arguments.outputs.picture.empty() ||
          write_picture(draw_plays(arguments.outputs.picture, rehearsal, {.title = title}), arguments.outputs)))
        return not_written;
    if (arguments.json)
        std::cout << print_document(hear_document, plays_of(rehearsal));
    else
        print_log(rehearsal);
    if (!arguments.beside.empty() && !arguments.json)
        for (std::size_t i = 0; i < 2; ++i)
            std::cout << fmt::format(
                "{}: {:.1f} LUFS{}\n", i == 0 ? name : arguments.beside, compared.loudness[i],
                compared.lowered[i] > 0 ? fmt::format(", lowered by {:.1f} dB to compare", compared.lowered[i]) : "");
    return to_file ? done : listen(rehearsal, arguments.speaker);
}

} // namespace

static void describe_members(Shape<LayerTake>& shape) {
    shape.has("layer", "The number of the layer, from 1.", &LayerTake::layer)
        .has("clip", "The clip that was picked.", &LayerTake::clip)
        .has("take", "The number of the take, from 1.", &LayerTake::number)
        .has("of", "The number of takes.", &LayerTake::of)
        .has("pitch", "Semitones.", &LayerTake::pitch)
        .has("gain", "dB.", &LayerTake::gain)
        .has("pan", "-1 (left) to 1 (right).", &LayerTake::pan);
}

static void describe_members(Shape<HeardPlay>& shape) {
    shape.has("name", "The name of the sound.", [](const HeardPlay& play) { return play.played.sound; })
        .has("frame", "The frame at which the play starts.", [](const HeardPlay& play) { return play.played.frame; })
        .has("play", "The number of the play, from 1.", [](const HeardPlay& play) { return play.played.play; })
        .has("layers", "The layers that are heard.", [](const HeardPlay& play) { return play.played.layers; })
        .has("length", "The length in frames.",
             [](const HeardPlay& play) { return play.ended ? std::optional(play.ended->length) : std::nullopt; })
        .has("level", "The peak of the sum of the layers, in dBFS.",
             [](const HeardPlay& play) { return play.ended ? std::optional(play.ended->level) : std::nullopt; });
}

static void describe_members(Shape<HeardPlays>& shape) {
    shape.has("plays", "The plays, in the order in which they started.", &HeardPlays::plays);
}

const Document hear_document{"hear", "The plays of `kiai hear --json`", 1,
                             [] { return shape_of<HeardPlays>().schema(); }};

void add_hear(Commands& commands) {
    auto arguments = std::make_shared<Arguments>();
    Command command = commands.add(Group::files, "hear", "Play a sound or a clip, on the device or to a file");
    command.project(arguments->words, {{"[NAME]", "The name of the sound or clip", {}, {}}});
    command.option("--times", arguments->settings.times, "COUNT", "How often to play it")
        .shows_default()
        .in_range(1, 10000);
    command.time("--gap", arguments->gap, 0, 60, "Silence between plays");
    command.time("--loop", arguments->loop, 0, 3600, "Fade out an endless sound after this time");
    command.option("--layer", arguments->settings.options.layer, "NUMBER", "Play only this layer").in_range(1, 1000);
    command.option("--compare", arguments->beside, "NAME", "Play this sound after it, both at the same loudness");
    command.option("--strength", arguments->settings.options.strength, "NUMBER", "Strength of the trigger")
        .shows_default()
        .at_least(0.0);
    command.option("--place", arguments->settings.options.place, "NUMBER", "Place of the trigger, from left to right")
        .shows_default()
        .in_range(-1.0, 1.0);
    command.option("--dial", arguments->dials, "NAME=NUMBER", "Set a dial (parameter); may be repeated").repeatable();
    command.option("--value", arguments->values, "NAME=NUMBER", "Set a value of each play; may be repeated")
        .repeatable();
    add_seed(command, arguments->settings.seed);
    command.option("--device", arguments->speaker.device, "NAME", "Output device: its name or a part of it");
    command.flag("--devices", arguments->devices, "List the output devices");
    add_sound_output(command, arguments->outputs);
    command.option("--picture", arguments->outputs.picture, "FILE", "Write a picture of the plays: .png")
        .completes(Completes::file);
    add_force(command);
    add_json(command, arguments->json);
    command.fails_if("nothing was heard");
    command.example("kiai hear marble-run oak --times 9 --gap \"250 ms\"");
    command.example("kiai hear marble-run oak --times 9 --seed 3 --out oak.wav");
    command.runs([arguments] { return run(*arguments); });
}

} // namespace kiai::tool
