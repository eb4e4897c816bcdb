// kiai pack: writes the project as one file, to ship with an app.
#include "claim.h"
#include "command.h"
#include "documents.h"
#include "table.h"

#include <kiai/workshop/pack.h>

#include <fmt/format.h>

#include <iostream>
#include <memory>

namespace kiai::tool {
namespace {

struct PackArguments {
    Operands words;
    PackSettings settings;
    std::string out;
    bool wav = false, flac = false, ogg = false, list = false, json = false;
};

constexpr const char* pack_mark = "KIAIPACK";

void print_clips(const PackResult& result) {
    Table table({"file", "as", "rate", "channels", "seconds", "size"});
    for (const PackedClip& clip : result.clips)
        table.add({clip.file, clip.coding, fmt::format("{}", clip.rate), fmt::format("{}", clip.channels),
                   fmt::format("{:.2f}", static_cast<double>(clip.frames) / clip.rate), size_text(clip.bytes)});
    if (!table.empty()) table.print();
    std::cout << fmt::format("{}, {}\n", counted(result.clips.size(), "file"), size_text(result.bytes));
}

Status list(const PackArguments& arguments) {
    if (arguments.words.size() != 1) throw WrongUse("--list takes one pack: kiai pack --list marble-run.kiai");
    const PackResult result = list_pack(arguments.words.front());
    const bool good = say_findings(result.findings);
    if (arguments.json)
        std::cout << print_document(pack_document, result);
    else if (result.bytes > 0)
        print_clips(result);
    return good ? done : failed;
}

Status run(PackArguments arguments) {
    if (arguments.list) return list(arguments);
    const auto folder = take_project(arguments.words);
    if (!arguments.words.empty()) throw WrongUse(fmt::format("\"{}\" has no kiai.toml", arguments.words.front()));
    if (arguments.out.empty()) arguments.out = std::filesystem::absolute(folder).lexically_normal().filename().string();
    PackSettings& settings = arguments.settings;
    settings.out = arguments.out;
    if (!settings.out.has_extension()) settings.out += ".kiai";
    settings.as = arguments.wav    ? PackAs::wav
                  : arguments.flac ? PackAs::flac
                  : arguments.ogg  ? PackAs::ogg
                                   : PackAs::as_it_is;
    if (const Status status = claim_output(settings.out.string(), {".kiai"}, pack_mark); status != done) return status;
    const PackResult result = make_pack(folder, settings);
    const bool good = say_findings(result.findings);
    if (arguments.json) {
        std::cout << print_document(pack_document, result);
    } else if (result.bytes > 0) {
        std::cout << fmt::format("{}: {} from {}; the clips' files have {}\n", settings.out.string(),
                                 size_text(result.bytes), counted(result.clips.size(), "file"),
                                 size_text(result.source_bytes));
        if (!result.left_out.empty())
            std::cout << fmt::format("left out, because nothing uses {}: {}\n",
                                     result.left_out.size() == 1 ? "it" : "them", joined(result.left_out, ", "));
    }
    if (good) return done;
    for (const Finding& finding : result.findings)
        if (finding.code == FindingCode::not_written) return not_written;
    return failed;
}

} // namespace

static void describe_members(Shape<PackedClip>& shape) {
    shape.has("file", "The clip's file, as kiai.toml names it.", &PackedClip::file)
        .has("coding", "How it lies in the pack.", &PackedClip::coding)
        .has("rate", "Frames per second.", &PackedClip::rate)
        .has("channels", "Its channels.", &PackedClip::channels)
        .has("frames", "Its length in frames.", &PackedClip::frames)
        .has("bytes", "Its bytes in the pack.", &PackedClip::bytes);
}

static void describe_members(Shape<PackResult>& shape) {
    shape.has("project", "The name of the project.", &PackResult::project)
        .has("clips", "The files in the pack.", &PackResult::clips)
        .has("left_out", "The names of clips that nothing uses.", &PackResult::left_out)
        .has("bytes", "Bytes of the pack; 0 if it was not written.", &PackResult::bytes)
        .has("source_bytes", "Bytes of all files that clips name; 0 with --list.", &PackResult::source_bytes);
}

const Document pack_document{"pack", "The files in a pack, of `kiai pack --json`", 1,
                             [] { return shape_of<PackResult>().schema(); }};

void add_pack(Commands& commands) {
    auto arguments = std::make_shared<PackArguments>();
    Command command = commands.add(Group::shipping, "pack", "Make one file of a project, to ship with an app");
    command.project(arguments->words, {{"[PACK]", "With --list: the pack to list", Completes::file, {}}});
    command.option("-o,--out", arguments->out, "FILE", "The pack: .kiai (default: the name of the folder)")
        .completes(Completes::file);
    const Option wav = command.flag("--wav", arguments->wav, "Pack all clips as samples, which load fastest");
    const Option flac = command.flag("--flac", arguments->flac, "Pack all clips as FLAC").excludes(wav);
    command.flag("--ogg", arguments->ogg, "Pack all clips as Ogg Vorbis").excludes(wav).excludes(flac);
    command.option("--quality", arguments->settings.quality, "NUMBER", "Quality of Ogg Vorbis")
        .in_range(0, 1)
        .shows_default();
    command.flag("--list", arguments->list, "List the content of a pack, and verify its bytes");
    add_force(command);
    add_json(command, arguments->json);
    command.explain("A pack contains the entries of kiai.toml without credits, and the clips that a sound or a binding "
                    "uses. The key `pack` of a clip overrides --wav, --flac and --ogg. kiai::open() accepts a pack "
                    "in place of a folder.");
    command.fails_if("the project has an error, or the pack is damaged");
    command.example("kiai pack marble-run --out marble-run.kiai");
    command.example("kiai pack --list marble-run.kiai");
    command.runs([arguments] { return run(*arguments); });
}

} // namespace kiai::tool
