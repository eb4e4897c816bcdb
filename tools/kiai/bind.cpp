// kiai bind, kiai unbind: add and remove bindings.
#include "edit_report.h"

#include <kiai/keys.h>
#include <kiai/workshop/bind.h>

#include <memory>

namespace kiai::tool {
namespace {

struct BindArguments {
    Operands words;
    std::string when, scope, chance, gap, every, gain, pitch, length, fade;
    bool once = false, dry_run = false, json = false;
};

/// Returns the settings that were given, by their keys in kiai.toml.
std::vector<std::pair<std::string, std::string>> settings_of(const BindArguments& arguments) {
    std::vector<std::pair<std::string, std::string>> settings;
    const std::pair<const char*, const std::string*> texts[] = {
        {"scope", &arguments.scope}, {"when", &arguments.when},  {"chance", &arguments.chance},
        {"every", &arguments.every}, {"gap", &arguments.gap},    {"gain", &arguments.gain},
        {"pitch", &arguments.pitch}, {"for", &arguments.length}, {"fade", &arguments.fade}};
    for (const auto& [key, value] : texts)
        if (!value->empty()) settings.emplace_back(key, *value);
    if (arguments.once) settings.emplace_back("once", "");
    return settings;
}

Status run_bind(BindArguments arguments) {
    const auto folder = take_project(arguments.words);
    return report_edit(bind(folder, {arguments.words, settings_of(arguments)}, {arguments.dry_run}), arguments.json);
}

Status run_unbind(BindArguments arguments) {
    const auto folder = take_project(arguments.words);
    return report_edit(unbind(folder, arguments.words, {arguments.dry_run}), arguments.json);
}

/// The keys of a section that have this kind of value, as words of an operand.
std::vector<std::string> triggers() {
    std::vector<std::string> names;
    for (const Key& key : project_keys())
        if (std::string_view(key.parent) == "trigger" && key.name != std::string_view("margin") &&
            key.name != std::string_view("lost") && key.name != std::string_view("repeat"))
            names.emplace_back(key.name);
    return names;
}

} // namespace

void add_bind(Commands& commands) {
    auto arguments = std::make_shared<BindArguments>();
    Command command = commands.add(Group::project, "bind", "Add a binding: a trigger and an action");
    command.project(arguments->words,
                    {{"TRIGGER", "press, key-down, contact, notice …, as in kiai.toml", {}, triggers()},
                     {"WORD…", "What the trigger names, the action, and what the action names", {}, {}}});
    command.option("--when", arguments->when, "CONDITION", "Act only if this is true, such as \"fill > 0.8\"");
    command.option("--scope", arguments->scope, "NAME", "Act only while this scope is on");
    command.option("--chance", arguments->chance, "PART", "Probability that the binding acts, such as \"50 %\"");
    command.option("--every", arguments->every, "COUNT", "Act every nth time");
    command.flag("--once", arguments->once, "Act once; with a scope, once each time the scope is entered");
    command.option("--gap", arguments->gap, "TIME", "Minimum time between two actions, such as \"200 ms\"");
    command.option("--gain", arguments->gain, "DB", "Gain of the play (-120 dB to 24 dB)");
    command.option("--pitch", arguments->pitch, "SEMITONES", "Pitch of the play (-48 to 48 semitones)");
    command.option("--for", arguments->length, "TIME", "Stop the play after this time, such as \"2 s\"");
    command.option("--fade", arguments->fade, "TIME", "Fade-out of a stop, such as \"500 ms\"");
    add_dry_run(command, arguments->dry_run);
    add_json(command, arguments->json);
    command.explain("A trigger of the pointer is written inside its zone, and other bindings become a [[binding]].");
    command.fails_if("nothing was bound");
    command.example("kiai bind marble-run press hopper play brush");
    command.example("kiai bind marble-run contact marble brass play brass --when \"strength > 0.2\"");
    command.example("kiai bind marble-run notice run-complete stop bus pieces --fade \"1 s\"");
    command.runs([arguments] { return run_bind(*arguments); });
}

void add_unbind(Commands& commands) {
    auto arguments = std::make_shared<BindArguments>();
    Command command = commands.add(Group::project, "unbind", "Remove bindings by trigger, action or number");
    command.project(arguments->words, {{"TRIGGER", "A trigger, or the number of a binding", {}, triggers()},
                                       {"[WORD…]", "What the trigger names, and perhaps the action", {}, {}}});
    add_dry_run(command, arguments->dry_run);
    add_json(command, arguments->json);
    command.fails_if("there is no such binding");
    command.example("kiai unbind marble-run key-down KeyT");
    command.example("kiai unbind marble-run press hopper play hopper");
    command.runs([arguments] { return run_unbind(*arguments); });
}

} // namespace kiai::tool
