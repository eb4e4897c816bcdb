// kiai rename, kiai remove: change entries of a project and every reference to them.
#include "command.h"
#include "edit_report.h"

#include <kiai/workshop/edit.h>

#include <algorithm>
#include <memory>

namespace kiai::tool {
namespace {

/// In the order of `EntryKind`.
const std::vector<std::string> kinds{"any", "clip", "sound", "zone", "bus", "dial", "scope", "motion", "sequence"};

struct RenameArguments {
    Operands words;
    std::string kind = kinds.front();
    bool delete_file = false, dry_run = false, json = false;
};

void add_options(Command& command, RenameArguments& arguments) {
    command.option("--kind", arguments.kind, "KIND", "Kind of the entry, if several kinds have the name")
        .one_of({kinds.begin() + 1, kinds.end()});
    add_dry_run(command, arguments.dry_run);
    add_json(command, arguments.json);
}

EntryKind kind_of(const RenameArguments& arguments) {
    return static_cast<EntryKind>(std::find(kinds.begin(), kinds.end(), arguments.kind) - kinds.begin());
}

Status run_rename(RenameArguments arguments) {
    const auto folder = take_project(arguments.words);
    return report_edit(
        rename_entry(folder, arguments.words[0], arguments.words[1], {kind_of(arguments), arguments.dry_run}),
        arguments.json);
}

Status run_remove(RenameArguments arguments) {
    const auto folder = take_project(arguments.words);
    return report_edit(
        remove_entry(folder, arguments.words[0], {kind_of(arguments), arguments.delete_file, arguments.dry_run}),
        arguments.json);
}

} // namespace

void add_rename(Commands& commands) {
    auto arguments = std::make_shared<RenameArguments>();
    Command command = commands.add(Group::project, "rename", "Rename an entry and every reference to it");
    command.project(arguments->words, {{"OLD", "The entry's name", {}, {}}, {"NEW", "Its new name", {}, {}}});
    add_options(command, *arguments);
    command.fails_if("the entry was not renamed");
    command.example("kiai rename marble-run peg-1 brass-1");
    command.runs([arguments] { return run_rename(*arguments); });
}

void add_remove(Commands& commands) {
    auto arguments = std::make_shared<RenameArguments>();
    Command command = commands.add(Group::project, "remove", "Remove an entry from a project");
    command.project(arguments->words, {{"NAME", "The entry's name", {}, {}}});
    add_options(command, *arguments);
    command.flag("--delete-file", arguments->delete_file, "Delete the clip's audio file too");
    command.fails_if("the entry was not removed");
    command.example("kiai remove marble-run oak-9 --delete-file");
    command.runs([arguments] { return run_remove(*arguments); });
}

} // namespace kiai::tool
