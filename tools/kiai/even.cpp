// kiai even: writes gains that match takes, or set the loudness of a sound.
#include "command.h"
#include "documents.h"
#include "table.h"

#include <kiai/workshop/even.h>

#include <fmt/format.h>

#include <algorithm>
#include <iostream>
#include <memory>

namespace kiai::tool {
namespace {

struct EvenArguments {
    Operands words;
    EvenSettings settings;
    bool dry_run = false, json = false;
};

void print(const EvenResult& result, bool written) {
    Table table({"", "name", "LUFS", "gain", written ? "now" : "proposed"});
    for (const GainProposal& one : result.gains)
        table.add({one.kind, one.name, fmt::format("{:.1f}", one.loudness), fmt::format("{:+.1f} dB", one.before),
                   one.after == one.before ? "unchanged" : fmt::format("{:+.1f} dB", one.after)});
    table.print();
    const auto changed = static_cast<std::size_t>(std::count_if(
        result.gains.begin(), result.gains.end(), [](const GainProposal& one) { return one.after != one.before; }));
    if (changed == 0)
        std::cout << "no changes needed\n";
    else if (!written)
        std::cout << fmt::format("{} proposed, nothing written\n", counted(changed, "gain"));
}

Status run(EvenArguments arguments) {
    const auto folder = take_project(arguments.words);
    arguments.settings.write = !arguments.dry_run;
    const EvenResult result = even_sound(folder, arguments.words.front(), arguments.settings);
    if (!say_findings(result.edited.findings)) return failed;
    if (arguments.json) {
        std::cout << print_document(even_document, result);
        return done;
    }
    print(result, arguments.settings.write);
    return say_edit(result.edited);
}

} // namespace

static void describe_members(Shape<GainProposal>& shape) {
    shape.has("kind", "What has the gain: a clip or a sound.", &GainProposal::kind)
        .has("name", "The name of the clip or sound.", &GainProposal::name)
        .has("loudness", "Its loudness in LUFS with the gain that it has.", &GainProposal::loudness)
        .has("gain", "The gain in dB that it has.", &GainProposal::before)
        .has("proposed", "The gain in dB that is proposed.", &GainProposal::after);
}

static void describe_members(Shape<EvenResult>& shape) {
    shape.has("gains", "The gains that were compared.", &EvenResult::gains);
}

const Document even_document{"even", "The gains of `kiai even --json`", 1,
                             [] { return shape_of<EvenResult>().schema(); }};

void add_even(Commands& commands) {
    auto arguments = std::make_shared<EvenArguments>();
    Command command = commands.add(Group::files, "even", "Match the loudness of a sound's takes");
    command.project(arguments->words, {{"SOUND", "The name of the sound", {}, {}}});
    command.option("--loudness", arguments->settings.target, "LUFS", "Set the loudness of the sound instead")
        .in_range(-70.0, 0.0, "LUFS");
    add_dry_run(command, arguments->dry_run);
    add_json(command, arguments->json);
    command.explain("Writes the gains into kiai.toml, and prints the changed lines.");
    command.fails_if("the gains were not written");
    command.example("kiai even marble-run oak --dry-run");
    command.example("kiai even marble-run oak --loudness -23");
    command.runs([arguments] { return run(*arguments); });
}

} // namespace kiai::tool
