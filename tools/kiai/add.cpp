// kiai add: adds audio files to a project.
#include "added.h"
#include "documents.h"

#include <kiai/workshop/add.h>

#include <fmt/format.h>

#include <iostream>
#include <memory>

namespace kiai::tool {
namespace {

struct AddArguments {
    Operands words;
    AddOptions options;
    std::string into = "clips";
    bool clips_only = false, json = false;
};

void print_series(const AddedSeries& series) {
    std::string line = fmt::format("series  {}: {} takes", series.name, series.takes);
    for (std::size_t i = 0; i < series.missing.size(); ++i)
        line += fmt::format("{}{}-{}", i == 0 ? ", missing: " : ", ", series.name, series.missing[i]);
    if (series.made_sound) line += fmt::format("; made sound \"{}\" of it", series.name);
    std::cout << paint(line, 36) << '\n';
}

Status run(AddArguments arguments) {
    const auto folder = take_project(arguments.words);
    AddOptions& options = arguments.options;
    options.into = arguments.into;
    options.make_sounds = !arguments.clips_only;
    options.progress = progress_line("files read");
    const AddResult added = add_files(folder, {arguments.words.begin(), arguments.words.end()}, options);
    const bool good = say_findings(added.findings);
    if (arguments.json) {
        std::cout << print_document(add_document, added);
    } else if (good) {
        for (const AddedFile& file : added.files) print_added(file);
        for (const AddedSeries& series : added.series) print_series(series);
        for (const std::string& remark : added.remarks) std::cout << paint("remark", 33) << "  " << remark << '\n';
        std::cout << fmt::format("{}{} added, {} known, {} refused", options.dry_run ? "would be: " : "",
                                 added.count(AddedFile::Outcome::added), added.count(AddedFile::Outcome::known),
                                 added.count(AddedFile::Outcome::refused));
        if (added.others > 0) std::cout << fmt::format("; {} ignored", counted(added.others, "other file"));
        std::cout << '\n';
    }
    return good && added.count(AddedFile::Outcome::refused) == 0 ? done : failed;
}

} // namespace

static void describe_members(Shape<AddedFile>& shape) {
    shape.has("file", "The file that was given, or was found in a folder that was given.", &AddedFile::file)
        .has("outcome", "What became of the file.", [](const AddedFile& file) { return word_of(file.outcome); })
        .one_of({"added", "known", "refused"})
        .has("name", "The name of the clip.", &AddedFile::name)
        .has("path", "The clip's file, relative to the project's folder.", &AddedFile::path)
        .has("seconds", "The length of the clip.", &AddedFile::seconds)
        .has("why", "The reason for the outcome, or a remark about the file.", &AddedFile::why)
        .has("fix", "What to do about a refused file.", &AddedFile::fix);
}

static void describe_members(Shape<AddedSeries>& shape) {
    shape.has("name", "The part of the clips' names before the number.", &AddedSeries::name)
        .has("takes", "The number of clips in the series.", &AddedSeries::takes)
        .has("missing", "The numbers that are missing between the lowest and the highest.", &AddedSeries::missing)
        .has("made-sound", "true: a sound with these takes was made.", &AddedSeries::made_sound);
}

static void describe_members(Shape<AddResult>& shape) {
    shape.has("files", "Every audio file that was given.", &AddResult::files)
        .has("series", "The numbered series that the files belong to.", &AddResult::series)
        .has("others", "The number of files that are no audio files.", &AddResult::others);
}

const Document add_document{"add", "The outcome of `kiai add --json`", 1,
                            [] { return shape_of<AddResult>().schema(); }};

void add_add(Commands& commands) {
    auto arguments = std::make_shared<AddArguments>();
    AddOptions& options = arguments->options;
    Command command = commands.add(Group::project, "add", "Register audio files as clips");
    command.project(arguments->words,
                    {{"FILE…", "Audio files, folders, or patterns such as \"*.wav\"", Completes::file, {}}});
    command.option("--name", options.name, "NAME",
                   "Name of the clip, for one file (default: made from the file's name)");
    command.option("--into", arguments->into, "FOLDER", "Folder of the project that receives the copies")
        .shows_default();
    command.flag("--in-place", options.in_place, "Register files at their present paths, without a copy");
    command.flag("--clips-only", arguments->clips_only, "Make no sound of a numbered series");
    command.option("--author", options.author, "NAME", "Who made the files");
    command.option("--licence,--license", options.licence, "SPDX", "Licence of the files, such as CC-BY-4.0");
    command.option("--source", options.source, "TEXT", "Where the files are from");
    command.option("--note", options.note, "TEXT", "A note for the credits");
    add_dry_run(command, options.dry_run);
    add_json(command, arguments->json);
    command.explain("Names are made from file names. Letters lose their marks and become lower case. Everything other "
                    "than a-z and 0-9 becomes \"-\". A number at the end loses its leading zeros: \"Oak Plank_01.wav\" "
                    "becomes oak-plank-1. If several files differ in a number after a letter, as in oak1 and oak2, "
                    "they become oak-1 and oak-2. A name that is only a number, or taken, starts with the name of its "
                    "folder.");
    command.fails_if("a file was refused");
    command.example("kiai add marble-run recordings/ --author \"A. Turner\" --licence CC0-1.0");
    command.runs([arguments] { return run(*arguments); });
}

} // namespace kiai::tool
