// kiai even: gains that bring takes to each other, or a sound to a loudness.
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

struct Arguments {
    std::vector<std::string> words;
    EvenSettings settings;
    bool json = false;
};

void print(const EvenResult& result, bool written) {
    Table table({"", "name", "LUFS", "gain", written ? "now" : "proposed"});
    for (const GainProposal& one : result.gains)
        table.add({one.kind, one.name, fmt::format("{:.1f}", one.loudness), fmt::format("{:+.1f} dB", one.before),
                   one.after == one.before ? "as it is" : fmt::format("{:+.1f} dB", one.after)});
    table.print();
    const auto changed = static_cast<std::size_t>(std::count_if(
        result.gains.begin(), result.gains.end(), [](const GainProposal& one) { return one.after != one.before; }));
    if (changed == 0)
        std::cout << "nothing is to be done\n";
    else if (!written)
        std::cout << fmt::format("{} proposed; --write puts {} into kiai.toml\n", counted(changed, "gain"),
                                 changed == 1 ? "it" : "them");
}

Status run(Arguments arguments) {
    const auto folder = take_project(arguments.words, 1);
    if (arguments.words.empty()) {
        say_error("no sound is named; name one: kiai even PROJECT NAME");
        return wrong_use;
    }
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
    auto arguments = std::make_shared<Arguments>();
    Command command = commands.add("even", "Bring the takes of a sound to each other, or a sound to a loudness",
                                   "kiai even marble-run oak --write");
    command.option("what", arguments->words, "The project's folder, then the name of a sound").expects(1, 2).required();
    command.option("--to", arguments->settings.target, "Bring the whole sound to this, in LUFS, by its own gain")
        .in_range(-70.0, 0.0);
    command.flag("--write", arguments->settings.write, "Write the gains into kiai.toml");
    command.flag("--json", arguments->json, "Print the gains as JSON");
    command.runs([arguments] { return run(*arguments); });
}

} // namespace kiai::tool
