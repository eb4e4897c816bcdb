// kiai hear: one sound, several times, to the device or to a file.
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
    std::vector<std::string> words;
    HearSettings settings;
    Outputs outputs;
    std::string beside;
    std::vector<std::string> dials, values;
    SpeakerSettings speaker;
    bool devices = false;
    double gap = 0.1, loop = 2;
    bool json = false;
};

/// A play, and its end, if it ended.
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

/// What was asked for and is not there; false where something is.
bool all_there(const Rehearsal& rehearsal, const HearSettings& settings) {
    bool heard = false;
    for (const Decision& decision : rehearsal.decisions) {
        if (decision.outcome == Outcome::unknown_name || decision.outcome == Outcome::unknown_value ||
            decision.outcome == Outcome::out_of_range) {
            if (settings.options.layer > 0 && decision.trigger == ReportKind::play &&
                decision.outcome == Outcome::out_of_range) {
                say_error(fmt::format("there is no layer {}; kiai show tells how many layers there are",
                                      settings.options.layer));
                return false;
            }
            say_error(describe_outcome(decision) +
                      (decision.outcome == Outcome::out_of_range ? fmt::format(" ({})", decision.on) : ""));
            if (decision.outcome != Outcome::out_of_range) return false;
        }
        heard = heard || !decision.layers.empty();
    }
    if (heard || settings.options.layer == 0) return true;
    say_error(
        fmt::format("nothing is heard of layer {}; kiai show tells how many layers there are", settings.options.layer));
    return false;
}

Status run(Arguments arguments) {
    if (arguments.devices) {
        print_devices();
        return done;
    }
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
    Command command = commands.add("hear", "Play one sound by itself, several times",
                                   "kiai hear marble-run oak --times 9 --seed 3 --out oak.wav");
    command.option("what", arguments->words, "The project's folder, then the name of a sound or a clip").expects(0, 2);
    command.option("--times", arguments->settings.times, "How often").shows_default().in_range(1, 10000);
    command.option("--seed", arguments->settings.seed, "Seed of all chance").shows_default();
    command.option("--layer", arguments->settings.options.layer, "Only this layer, from 1").in_range(1, 1000);
    command.option("--compare", arguments->beside, "Then this sound, as loud as the first, to compare them");
    command.option("--strength", arguments->settings.options.strength, "Strength of the trigger, from 0")
        .shows_default()
        .at_least(0.0);
    command.option("--place", arguments->settings.options.place, "Place of the trigger, -1 to 1")
        .shows_default()
        .in_range(-1.0, 1.0);
    command.option("--dial", arguments->dials, "A dial and its value, as fill=0.8").repeatable();
    command.option("--value", arguments->values, "A value of each play, as speed=2.5").repeatable();
    command.option("--gap", arguments->gap, "Seconds of silence between two plays").shows_default().in_range(0.0, 60.0);
    command.option("--loop", arguments->loop, "Seconds after which a sound without an end fades out")
        .shows_default()
        .in_range(0.0, 3600.0);
    command.option("--device", arguments->speaker.device, "An output other than the default: its name, or a part");
    command.flag("--devices", arguments->devices, "Print the outputs that there are");
    add_sound_output(command, arguments->outputs);
    add_force(command);
    command.option("--picture", arguments->outputs.picture, "Write a picture of the plays, one below the other: PNG");
    command.flag("--json", arguments->json, "Print the plays as JSON");
    command.runs([arguments] { return run(*arguments); });
}

} // namespace kiai::tool
