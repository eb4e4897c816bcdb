// kiai convert, kiai trim: make new files of clips.
#include "command.h"
#include "documents.h"
#include "player.h"
#include "system/terminal.h"
#include "table.h"

#include <kiai/workshop/audible.h>
#include <kiai/workshop/convert.h>

#include <fmt/format.h>

#include <cmath>
#include <iostream>
#include <memory>

namespace kiai::tool {
namespace {

const std::vector<std::string> formats{"keep", "wav", "flac", "ogg", "opus", "mp3"}; ///< in the order of AudioFormat

struct ConvertArguments {
    Operands words;
    std::string format = formats.front();
    ConvertOptions options;
    double fade = 0.005;
    bool compare = false, dry_run = false, json = false;
};

std::string level(Decibels value, const char* unit) {
    return value <= Facts::silent ? "none" : fmt::format("{:.1f} {}", value, unit);
}

void print(const ConvertResult& result, bool dry_run) {
    Table table({"clip", "file", "size", "new size", "length", "new length", "gain", "true peak", "difference", ""});
    std::uint64_t before = 0, after = 0;
    std::size_t converted = 0;
    for (const ConvertedClip& clip : result.clips) {
        if (!clip.ok()) {
            table.add({clip.name, clip.file_before, "", "", "", "", "", "", "",
                       fmt::format("refused: {}; {}", clip.why, clip.fix)});
            continue;
        }
        ++converted;
        before += clip.before.bytes, after += clip.after.bytes;
        table.add({clip.name, clip.file, size_text(clip.before.bytes), size_text(clip.after.bytes),
                   fmt::format("{:.3f} s", clip.before.seconds()), fmt::format("{:.3f} s", clip.after.seconds()),
                   std::abs(clip.gain) < 0.05f ? "" : fmt::format("{:+.1f} dB", clip.gain),
                   level(clip.after.true_peak, "dBTP"), level(clip.residue, "dBFS"), clip.remark});
    }
    table.print();
    std::cout << fmt::format("{} {}: {} before, {} after\n", counted(converted, "clip"),
                             dry_run ? "would be converted" : "converted", size_text(before), size_text(after));
    if (converted > 0 && !dry_run) std::cout << "the old files are in originals/\n";
}

/// Plays each clip before and after, at the same loudness.
Status listen_to_both(const std::filesystem::path& folder, const ConvertResult& result) {
    if (!interactive()) {
        say_error("--compare plays on the device, which needs a terminal");
        return wrong_use;
    }
    for (const ConvertedClip& clip : result.clips) {
        if (!clip.ok()) continue;
        const LoadResult both =
            load_files({{"before", folder / "originals" / clip.file_before}, {"after", folder / clip.file}});
        if (!say_findings(both.findings)) return failed;
        const Comparison compared = compare(both.project, "before", "after");
        std::cout << fmt::format("{}: before {:.1f} LUFS, after {:.1f} LUFS\n", clip.name, compared.loudness[0],
                                 compared.loudness[1])
                  << std::flush;
        if (const Status status = listen(compared.rehearsal, {}); status != done) return status;
    }
    return done;
}

Status run(ConvertArguments arguments) {
    const auto folder = take_project(arguments.words);
    ConvertOptions& options = arguments.options;
    for (std::size_t i = 0; i < formats.size(); ++i)
        if (formats[i] == arguments.format) options.format = static_cast<AudioFormat>(i);
    options.fade = Seconds(arguments.fade);
    options.dry_run = arguments.dry_run;
    if (arguments.compare && arguments.dry_run) throw WrongUse("--compare needs the new files; leave out --dry-run");
    const ConvertResult result = convert_clips(folder, arguments.words, options);
    const bool good = say_findings(result.edited.findings) && result.ok();
    if (!result.edited.ok()) {
        for (const Finding& finding : result.edited.findings)
            if (finding.code == FindingCode::not_written) return not_written;
        return failed;
    }
    if (arguments.json)
        std::cout << print_document(convert_document, result);
    else
        print(result, arguments.dry_run);
    if (arguments.compare)
        if (const Status status = listen_to_both(folder, result); status != done) return status;
    return good ? done : failed;
}

void add_common(Command& command, ConvertArguments& arguments) {
    command.project(arguments.words,
                    {{"NAME…", "Clips, sounds, patterns such as \"oak-*\", or folders of the project", {}, {}}});
    command
        .option("--bits", arguments.options.bits, "BITS",
                "Sample format of WAV and FLAC (default: the source's, at most 24)")
        .one_of({"16", "24"});
    command.flag("--compare", arguments.compare, "Play each clip before and after, at the same loudness");
    add_dry_run(command, arguments.dry_run);
    add_json(command, arguments.json);
    command.explain(
        "The old files are moved to originals/, and kiai.toml names the new ones. `difference` is the level of "
        "what the format lost.");
    command.fails_if("a clip was refused");
}

} // namespace

static void describe_members(Shape<ConvertedClip>& shape) {
    shape.has("name", "The name of the clip.", &ConvertedClip::name)
        .has("file-before", "The old file, relative to the project.", &ConvertedClip::file_before)
        .has("file", "The new file; empty if the clip was refused.", &ConvertedClip::file)
        .has("bytes-before", "The size of the old file.", [](const ConvertedClip& clip) { return clip.before.bytes; })
        .has("bytes", "The size of the new file.", [](const ConvertedClip& clip) { return clip.after.bytes; })
        .has("seconds-before", "The old length.", [](const ConvertedClip& clip) { return clip.before.seconds(); })
        .has("seconds", "The new length.", [](const ConvertedClip& clip) { return clip.after.seconds(); })
        .has("gain", "The gain that was applied, in dB.", &ConvertedClip::gain)
        .has("loudness", "The new loudness, in LUFS.", [](const ConvertedClip& clip) { return clip.after.loudness; })
        .has("true-peak", "The new true peak, in dBTP.", [](const ConvertedClip& clip) { return clip.after.true_peak; })
        .has("difference", "The level of what the format lost, in dBFS; -200: no loss.", &ConvertedClip::residue)
        .has("remark", "What else there is to know.", &ConvertedClip::remark)
        .has("why", "Why the clip was refused; empty: it was converted.", &ConvertedClip::why)
        .has("fix", "What to do about it.", &ConvertedClip::fix);
}

static void describe_members(Shape<ConvertResult>& shape) {
    shape.has("clips", "The clips, in the order of kiai.toml.", &ConvertResult::clips);
}

const Document convert_document{"convert", "The clips of `kiai convert` and `kiai trim` with `--json`", 1,
                                [] { return shape_of<ConvertResult>().schema(); }};

void add_convert(Commands& commands) {
    auto arguments = std::make_shared<ConvertArguments>();
    Command command = commands.add(Group::files, "convert", "Convert clips to another audio format");
    command.option("--to", arguments->format, "FORMAT", "Format of the new files; keep: that of the source")
        .one_of(formats)
        .shows_default();
    command.option("--quality", arguments->options.quality, "NUMBER", "Quality of Ogg Vorbis, Opus and MP3")
        .shows_default()
        .in_range(0.0, 1.0);
    add_common(command, *arguments);
    command.example("kiai convert marble-run flourish --to ogg");
    command.example("kiai convert marble-run clips/ --to flac --dry-run");
    command.runs([arguments] { return run(*arguments); });
}

void add_trim(Commands& commands) {
    auto arguments = std::make_shared<ConvertArguments>();
    arguments->options.trim = true;
    Command command = commands.add(Group::files, "trim", "Cut the silence of clips, and set their level");
    command.time("--fade", arguments->fade, 0, 1, "Fade of each cut end");
    command.option("--peak", arguments->options.peak, "DB", "Set the largest sample").in_range(-60.0, 0.0, "dBFS");
    command.option("--loudness", arguments->options.loudness, "LUFS", "Set the loudness").in_range(-60.0, 0.0, "LUFS");
    add_common(command, *arguments);
    command.example("kiai trim marble-run oak-1 --fade \"10 ms\"");
    command.example("kiai trim marble-run oak --loudness -20");
    command.runs([arguments] { return run(*arguments); });
}

} // namespace kiai::tool
