// kiai hear: plays sounds, clips and audio files, on the device or to a file.
#include "added.h"
#include "browse.h"
#include "claim.h"
#include "command.h"
#include "documents.h"
#include "outputs.h"
#include "system/terminal.h"
#include "waveform.h"

#include <kiai/workshop/audible.h>
#include <kiai/workshop/picture.h>

#include <fmt/format.h>

#include <iostream>
#include <map>
#include <memory>

namespace kiai::tool {
namespace {

struct HearArguments {
    Operands words;
    HearSettings settings;
    Outputs outputs;
    std::string beside;
    std::vector<std::string> dials, values;
    SpeakerSettings speaker;
    bool devices = false, watch = false;
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

/// What is heard: entries of a project, and files.
class Hearing {
  public:
    Hearing(HearArguments arguments, std::optional<std::filesystem::path> folder)
        : arguments_(std::move(arguments)), folder_(std::move(folder)), player_(arguments_.speaker) {
        if (folder_) loaded_ = load_or_say(*folder_);
        found_ = find_audible(loaded_.project, arguments_.words);
    }

    const Audibles& found() const noexcept { return found_; }

    /// Renders the only one to a file, and prints the log.
    Status write() {
        if (found_.all.size() != 1) {
            say_error(fmt::format("--out takes one sound, but {} are named", found_.all.size()));
            return wrong_use;
        }
        const Audible& one = found_.all.front();
        const Comparison compared = render(one);
        if (!all_there(compared.rehearsal, arguments_.settings)) return failed;
        arguments_.outputs.title = title_of(one);
        if (!write_sound(compared.rehearsal, arguments_.outputs) || !write_pictures(compared.rehearsal))
            return not_written;
        print(one, compared);
        return done;
    }

    /// Plays all, one after the other: by keys if a person sits at the terminal.
    Status play() {
        if (!interactive()) return play_all();
        std::vector<BrowseItem> all;
        for (std::size_t i = 0; i < found_.all.size(); ++i) {
            const Audible& one = found_.all[i];
            BrowseItem item;
            item.show = [this, i](bool again) { return show(i, again); };
            if (!one.file.empty() && folder_) item.add = [this, &one] { add(one); };
            if (arguments_.watch) {
                item.files = [this, &one] { return files_of(one); };
                item.changed = [this] {
                    if (folder_) loaded_ = load_or_say(*folder_);
                };
            }
            all.push_back(std::move(item));
        }
        return browse(all, player_);
    }

  private:
    Project project_of(const Audible& one) const {
        if (one.file.empty()) return loaded_.project;
        const LoadResult loaded = load_files({one});
        say_findings(loaded.findings);
        return loaded.project;
    }

    Comparison render(const Audible& one) const {
        const Project project = project_of(one);
        if (!arguments_.beside.empty()) return compare(project, one.name, arguments_.beside, arguments_.settings);
        Comparison compared;
        compared.rehearsal = hear(project, one.name, arguments_.settings);
        return compared;
    }

    std::string title_of(const Audible& one) const {
        const int times = arguments_.settings.times;
        std::string title = fmt::format("{}: {} heard {}", loaded_.project.name(), one.name,
                                        times == 1 ? "once" : fmt::format("{} times", times));
        if (!arguments_.beside.empty()) title += ", then " + arguments_.beside;
        return title;
    }

    bool write_pictures(const Rehearsal& rehearsal) const {
        const Outputs& outputs = arguments_.outputs;
        return outputs.picture.empty() ||
               write_picture(draw_plays(outputs.picture, rehearsal, {.title = outputs.title}), outputs);
    }

    void print(const Audible& one, const Comparison& compared) const {
        if (arguments_.json) {
            std::cout << print_document(hear_document, plays_of(compared.rehearsal));
            return;
        }
        print_log(compared.rehearsal);
        if (arguments_.beside.empty()) return;
        for (std::size_t i = 0; i < 2; ++i)
            std::cout << fmt::format(
                "{}: {:.1f} LUFS{}\n", i == 0 ? one.name : arguments_.beside, compared.loudness[i],
                compared.lowered[i] > 0 ? fmt::format(", lowered by {:.1f} dB to compare", compared.lowered[i]) : "");
    }

    Status play_all() {
        for (const Audible& one : found_.all) {
            const Comparison compared = render(one);
            if (!all_there(compared.rehearsal, arguments_.settings)) return failed;
            arguments_.outputs.title = title_of(one);
            if (!write_pictures(compared.rehearsal)) return not_written;
            print(one, compared);
            if (const Status status = listen(compared.rehearsal, arguments_.speaker); status != done) return status;
        }
        return done;
    }

    /// Prints the facts of a clip or a file in one line; of a sound, what was played.
    bool show(std::size_t index, bool again) {
        const Audible& one = found_.all[index];
        if (again) ++arguments_.settings.seed; // so that variation is heard
        const Comparison compared = render(one);
        if (!all_there(compared.rehearsal, arguments_.settings)) return false;
        const EntryDetails shown =
            show_entry(folder_.value_or("."), one.file.empty() ? one.name : one.file.string(), 32);
        std::cout << paint(fmt::format("{}/{}", index + 1, found_.all.size()), 2) << ' ' << paint(one.name, 1);
        if (!one.file.empty()) std::cout << fmt::format(" ({})", one.file.string());
        if (shown.kind == "sound" || shown.clips.size() != 1) {
            std::cout << fmt::format("  {}\n", counted(shown.clips.size(), "take"));
            print(one, compared);
        } else {
            std::cout << "  " << facts_line(shown.clips.front()) << '\n';
        }
        std::cout << std::flush;
        return player_.play(compared.rehearsal);
    }

    static std::string facts_line(const ClipDetails& clip) {
        const Facts& facts = clip.facts;
        return fmt::format("{:.3f} s  {}  {}, {}, {} Hz, {}  {}", facts.seconds(),
                           facts.loudness <= Facts::silent ? "silent" : fmt::format("{:.1f} LUFS", facts.loudness),
                           facts.format, facts.coding, facts.rate,
                           facts.channels == 1   ? std::string("mono")
                           : facts.channels == 2 ? std::string("stereo")
                                                 : counted(static_cast<std::size_t>(facts.channels), "channel"),
                           small_waveform(clip, 32));
    }

    void add(const Audible& one) const {
        const AddResult added = add_files(*folder_, {one.file});
        if (!say_findings(added.findings)) return;
        for (const AddedFile& file : added.files) print_added(file);
    }

    std::vector<std::filesystem::path> files_of(const Audible& one) const {
        if (!one.file.empty()) return {one.file};
        std::vector<std::filesystem::path> files{*folder_ / "kiai.toml"};
        for (const ClipDetails& clip : show_entry(*folder_, one.name, 1).clips) files.push_back(*folder_ / clip.file);
        return files;
    }

    HearArguments arguments_;
    std::optional<std::filesystem::path> folder_;
    LoadResult loaded_;
    Audibles found_;
    Player player_;
};

Status run(HearArguments arguments) {
    if (arguments.devices) {
        print_devices();
        return done;
    }
    const auto folder = take_project_or_files(arguments.words);
    if (arguments.words.empty()) throw WrongUse("missing NAME; usage: " + usage_of(*arguments.words.command));
    const bool to_file = !arguments.outputs.sound.empty();
    if (!to_file && !prints_to_terminal()) {
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
    Hearing hearing(std::move(arguments), folder);
    if (!say_findings(hearing.found().findings) || hearing.found().all.empty()) return failed;
    return to_file ? hearing.write() : hearing.play();
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
    auto arguments = std::make_shared<HearArguments>();
    Command command = commands.add(Group::files, "hear", "Play sounds, clips or audio files");
    command.project(
        arguments->words,
        {{"[NAME…]", "A sound, a clip, a pattern such as \"oak-*\", an audio file, or a folder", Completes::file, {}}});
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
    command.flag("--watch", arguments->watch, "Play again whenever the project or the file changes");
    add_sound_output(command, arguments->outputs);
    command.option("--picture", arguments->outputs.picture, "FILE", "Write a picture of the plays: .png")
        .completes(Completes::file);
    add_force(command);
    add_json(command, arguments->json);
    command.explain(
        "In a terminal, space plays again, the arrow keys go to the previous and the next, `a` adds a file to "
        "the project, and `q` ends.");
    command.fails_if("nothing was heard");
    command.example("kiai hear marble-run \"oak-*\"");
    command.example("kiai hear recordings/");
    command.example("kiai hear marble-run oak --times 9 --gap \"250 ms\"");
    command.example("kiai hear marble-run oak --times 9 --seed 3 --out oak.wav");
    command.runs([arguments] { return run(*arguments); });
}

} // namespace kiai::tool
