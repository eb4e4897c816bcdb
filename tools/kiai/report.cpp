// kiai report: writes a project as one page that needs no server.
#include "claim.h"
#include "command.h"
#include "documents.h"
#include "runtime/system/program.h"

#include <kiai/workshop/page.h>

#include <fmt/format.h>

#include <iostream>
#include <memory>
#include <optional>

namespace kiai::tool {
namespace {

namespace fs = std::filesystem;

constexpr const char* report_mark = "<!doctype html><!-- Kiai report -->";

struct ReportArguments {
    Operands words;
    std::string out, over, engine;
    std::optional<std::uint64_t> seed;
    bool without_audio = false, playable = false, json = false;
};

/// Returns the folder of kiai.wasm that is installed with the tool.
fs::path installed_engine() {
    std::error_code error;
    const fs::path program = runtime::program_path(), prefix = program.parent_path().parent_path();
    const fs::path folder = prefix / "share" / "kiai" / "web";
    if (!fs::is_regular_file(folder / "kiai.wasm", error))
        throw WrongUse(
            "--playable: no kiai.wasm is installed with this tool; build it with scripts/web, and name its folder "
            "with --engine");
    return folder;
}

Status run(ReportArguments arguments) {
    const auto folder = take_project(arguments.words);
    if (arguments.out.empty())
        arguments.out = std::filesystem::absolute(folder).lexically_normal().filename().string() + ".html";
    if (const Status status = claim_output(arguments.out, {".html"}, report_mark); status != done) return status;
    ReportSettings settings;
    settings.over = arguments.over;
    settings.without_audio = arguments.without_audio;
    settings.seed = arguments.seed;
    if (arguments.playable)
        settings.engine = arguments.engine.empty() ? installed_engine() : fs::path(arguments.engine);
    if (!arguments.words.empty()) settings.trace = arguments.words.front();
    std::error_code error;
    if (!settings.over.empty() && !std::filesystem::is_regular_file(settings.over, error))
        throw WrongUse(fmt::format("--over {}: missing file; name a PNG of the app", arguments.over));
    const ReportResult result = write_report(folder, arguments.out, settings);
    const bool good = say_findings(result.findings);
    if (!result.error.empty()) {
        say_error(result.error);
        return not_written;
    }
    if (arguments.json)
        std::cout << print_document(report_document, result);
    else
        std::cout << fmt::format("{}: {}, {} with audio\n", arguments.out, size_text(result.bytes),
                                 counted(static_cast<std::size_t>(result.clips), "clip"));
    return good ? done : failed;
}

} // namespace

static void describe_members(Shape<ReportResult>& shape) {
    shape.has("bytes", "Bytes of the page.", &ReportResult::bytes)
        .has("clips", "The number of clips with audio.", &ReportResult::clips);
}

const Document report_document{"report", "The page of `kiai report --json`", 1,
                               [] { return shape_of<ReportResult>().schema(); }};

void add_report(Commands& commands) {
    auto arguments = std::make_shared<ReportArguments>();
    Command command = commands.add(Group::shipping, "report", "Write a project as one web page, to send to others");
    command.project(arguments->words, {{"[TRACE]", "A trace whose rehearsal is drawn", Completes::file, {}}});
    command.option("-o,--out", arguments->out, "FILE", "The page: .html (default: the name of the folder)")
        .completes(Completes::file);
    command.option("--over", arguments->over, "FILE", "PNG of the app to draw the zones on, in the app's units");
    command.flag("--playable", arguments->playable, "Include the engine, so that zones and keys play");
    command
        .option("--engine", arguments->engine, "FOLDER",
                "With --playable: the folder of kiai.wasm (default: installed)")
        .completes(Completes::folder);
    command.option("--seed", arguments->seed, "NUMBER", "With --playable: the same choices and samples at each visit");
    command.flag("--without-audio", arguments->without_audio, "Leave out the sound of the clips");
    add_force(command);
    add_json(command, arguments->json);
    command.fails_if("the project or the trace has an error");
    command.example("kiai report marble-run marble-run/run.jsonl --out marble-run.html");
    command.runs([arguments] { return run(*arguments); });
}

} // namespace kiai::tool
