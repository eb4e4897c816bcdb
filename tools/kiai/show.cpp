// kiai show: shows one clip, sound or file, with its facts and its waveform.
#include "claim.h"
#include "command.h"
#include "documents.h"
#include "table.h"
#include "waveform.h"

#include <kiai/workshop/catalogue.h>
#include <kiai/workshop/picture.h>

#include <fmt/format.h>

#include <cmath>
#include <iostream>
#include <memory>

namespace kiai::tool {
namespace {

struct ShowArguments {
    Operands words;
    std::string picture;
    bool json = false;
};

std::string level(float value, const char* unit) {
    return value <= Facts::silent ? "silent" : fmt::format("{:.1f} {}", value, unit);
}

double milliseconds(Frames frames, const Facts& facts) {
    return 1000.0 * static_cast<double>(frames) / facts.rate;
}

/// Returns the facts of one clip as pairs of name and value.
std::vector<std::pair<std::string, std::string>> lines_of(const ClipDetails& clip) {
    const Facts& f = clip.facts;
    std::vector<std::pair<std::string, std::string>> lines{
        {"file", clip.file},
        {"format", fmt::format("{}, {}", f.format, f.coding)},
        {"rate", fmt::format("{} Hz", f.rate)},
        {"channels", f.channels > 2 ? fmt::format("{}, folded to stereo", f.channels) : std::to_string(f.channels)},
        {"length", fmt::format("{:.3f} s, {} frames", f.seconds(), f.frames)},
        {"size", size_text(f.bytes)},
        {"loudness", level(f.loudness, "LUFS")},
        {"peak", fmt::format("{}, true peak {}", level(f.peak, "dBFS"), level(f.true_peak, "dBTP"))},
        {"silence",
         fmt::format("{:.1f} ms before, {:.1f} ms after", milliseconds(f.lead, f), milliseconds(f.trail, f))},
        {"offset", fmt::format("{:+.4f}", std::abs(f.offset) < 0.00005f ? 0.0f : f.offset)},
        {"clipped", f.clipped == 0 ? "nowhere"
                                   : fmt::format("{}, first after {:.1f} ms, longest {} frames",
                                                 counted(static_cast<std::size_t>(f.clipped), "place"),
                                                 milliseconds(f.first_clipped, f), f.longest_clipped)}};
    for (std::size_t i = 0; i < f.loops.size(); ++i)
        lines.emplace_back("loop",
                           fmt::format("frames {} to {}, step at its seam {}", f.loops[i].begin, f.loops[i].end,
                                       f.loop_seams[i] <= Facts::silent ? "none" : level(f.loop_seams[i], "dBFS")));
    if (!clip.name.empty()) lines.emplace_back("gain", fmt::format("{:+.1f} dB", clip.gain));
    const std::pair<const char*, const std::string*> credits[] = {
        {"author", &clip.author}, {"licence", &clip.licence}, {"source", &clip.source}, {"note", &clip.note}};
    for (const auto& [what, text] : credits)
        if (!text->empty()) lines.emplace_back(what, *text);
    for (const std::string& user : clip.users) lines.emplace_back("used by", user);
    if (clip.users.empty() && !clip.name.empty()) lines.emplace_back("used by", "nothing");
    return lines;
}

void print_clip(const ClipDetails& clip) {
    std::cout << paint(clip.name.empty() ? clip.file : clip.name, 1) << '\n';
    for (const auto& [what, how] : lines_of(clip)) std::cout << fmt::format("  {:9} {}\n", what, how);
    std::cout << '\n' << waveform(clip);
}

/// Prints the takes of a sound with their facts.
void print_sound(const EntryDetails& shown) {
    std::cout << paint("sound " + shown.name, 1) << '\n';
    for (const std::string& user : shown.users) std::cout << "  used by   " << user << '\n';
    Table table({"take", "seconds", "loudness", "peak", "true peak", "silence before", "level over time"});
    for (const ClipDetails& clip : shown.clips)
        table.add({clip.name, fmt::format("{:.3f}", clip.facts.seconds()), level(clip.facts.loudness, "LUFS"),
                   level(clip.facts.peak, "dBFS"), level(clip.facts.true_peak, "dBTP"),
                   fmt::format("{:.1f} ms", milliseconds(clip.facts.lead, clip.facts)), small_waveform(clip, 40)});
    table.print();
}

struct LoopRegion {
    Frames begin = 0, end = 0;
    Decibels seam = 0;
};

std::vector<LoopRegion> loops_of(const Facts& facts) {
    std::vector<LoopRegion> loops;
    for (std::size_t i = 0; i < facts.loops.size(); ++i)
        loops.push_back({facts.loops[i].begin, facts.loops[i].end, facts.loop_seams[i]});
    return loops;
}

Status run(ShowArguments arguments) {
    const auto folder = take_project(arguments.words);
    if (const Status status = claim_output(arguments.picture, {".png"}, picture_mark); status != done) return status;
    const EntryDetails shown = show_entry(folder, arguments.words.front(), 1200);
    if (!say_findings(shown.findings) || shown.kind.empty()) return failed;
    if (arguments.json) {
        std::cout << print_document(show_document, shown);
    } else if (shown.kind == "sound") {
        print_sound(shown);
    } else {
        print_clip(shown.clips.front());
    }
    if (arguments.picture.empty()) return done;
    if (const std::string error = draw_clips(arguments.picture, shown); !error.empty()) {
        say_error(error + "; choose a place that can be written");
        return not_written;
    }
    std::cerr << "wrote " << arguments.picture << '\n';
    return done;
}

} // namespace

static void describe_members(Shape<LoopRegion>& shape) {
    shape.has("begin", "The first frame of the loop.", &LoopRegion::begin)
        .has("end", "The frame after the last of the loop.", &LoopRegion::end)
        .has("seam", "The step at the seam of the loop, in dBFS.", &LoopRegion::seam);
}

static void describe_members(Shape<ClipDetails>& shape) {
    const auto fact = [](auto member) {
        return [member](const ClipDetails& clip) { return std::invoke(member, clip.facts); };
    };
    shape.has("name", "The name of the clip; empty: the file is not registered.", &ClipDetails::name)
        .has("file", "The file, relative to the project's folder.", &ClipDetails::file)
        .has("format", "The format of the file: `WAV`, `FLAC` …", fact(&Facts::format))
        .has("coding", "How the samples are stored.", fact(&Facts::coding))
        .has("bits", "The bits of a sample; 0: the format does not say.", fact(&Facts::bits))
        .has("rate", "Frames per second.", fact(&Facts::rate))
        .has("channels", "The number of channels.", fact(&Facts::channels))
        .has("frames", "The length in frames.", fact(&Facts::frames))
        .has("seconds", "The length in seconds.", fact(&Facts::seconds))
        .has("bytes", "The size of the file.", fact(&Facts::bytes))
        .has("loudness", "LUFS (ITU-R BS.1770); -200: silent.", fact(&Facts::loudness))
        .has("peak", "The largest sample in dBFS; -200: silent.", fact(&Facts::peak))
        .has("true-peak", "dBTP (ITU-R BS.1770); -200: silent.", fact(&Facts::true_peak))
        .has("lead", "Frames of silence at the start.", fact(&Facts::lead))
        .has("trail", "Frames of silence at the end.", fact(&Facts::trail))
        .has("offset", "The mean of the samples (DC offset), -1 to 1.", fact(&Facts::offset))
        .has("clipped", "The number of places with clipped samples.", fact(&Facts::clipped))
        .has("first-clipped", "The frame of the first of them.", fact(&Facts::first_clipped))
        .has("longest-clipped", "The length of the longest of them, in frames.", fact(&Facts::longest_clipped))
        .has("loops", "The loops that the file names.", [](const ClipDetails& clip) { return loops_of(clip.facts); })
        .has("seam", "The step from the end to the start, in dBFS.", fact(&Facts::seam))
        .has("gain", "The gain of the clip in kiai.toml, in dB.", &ClipDetails::gain)
        .has("author", "Who made the clip.", &ClipDetails::author)
        .has("licence", "The licence of the clip: an SPDX identifier.", &ClipDetails::licence)
        .has("source", "Where the clip is from.", &ClipDetails::source)
        .has("note", "The note of the clip.", &ClipDetails::note)
        .has("users", "The sounds and bindings that use the clip, a line each.", &ClipDetails::users);
}

static void describe_members(Shape<EntryDetails>& shape) {
    shape.has("kind", "What was shown.", &EntryDetails::kind)
        .one_of({"clip", "sound", "file"})
        .has("name", "The name of the clip or sound, or the file.", &EntryDetails::name)
        .has("users", "The sounds and bindings that use it, a line each.", &EntryDetails::users)
        .has("clips", "The clip; of a sound: the takes of all layers.", &EntryDetails::clips);
}

const Document show_document{"show", "The clips of `kiai show --json`", 1,
                             [] { return shape_of<EntryDetails>().schema(); }};

void add_show(Commands& commands) {
    auto arguments = std::make_shared<ShowArguments>();
    Command command = commands.add(Group::files, "show", "Show a clip, the takes of a sound, or any audio file");
    command.project(arguments->words, {{"NAME", "A clip, a sound, or an audio file", Completes::file, {}}});
    command.option("--picture", arguments->picture, "FILE", "Write a picture of the waveforms: .png")
        .completes(Completes::file);
    add_force(command);
    add_json(command, arguments->json);
    command.fails_if("the file cannot be read, or the name is unknown");
    command.example("kiai show marble-run oak-1 --picture oak-1.png");
    command.runs([arguments] { return run(*arguments); });
}

} // namespace kiai::tool
