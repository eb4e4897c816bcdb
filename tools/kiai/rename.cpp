// kiai rename, kiai remove: entries of a project, with all that names them.
#include "command.h"
#include "documents.h"

#include <kiai/workshop/edit.h>

#include <fmt/format.h>

#include <algorithm>
#include <iostream>
#include <memory>

namespace kiai::tool {
namespace {

/// As `EntryKind` counts them.
const std::vector<std::string> kinds{"any", "clip", "sound", "zone", "bus", "dial", "scope", "motion", "sequence"};

struct Arguments {
    std::vector<std::string> words;
    std::string kind = kinds.front();
    bool delete_file = false, json = false;
};

Status report(const EditResult& edited, bool json) {
    if (!json) return say_edit(edited);
    std::cout << print_document(edit_document, edited);
    return say_findings(edited.findings) ? done : failed;
}

void add_kind(Command& command, Arguments& arguments) {
    command
        .option("--kind", arguments.kind,
                "Which is meant, where several have the name: clip, sound, zone, bus, dial, scope, motion or sequence")
        .one_of({kinds.begin() + 1, kinds.end()}, false)
        .placeholder("KIND");
    command.flag("--json", arguments.json, "Print the changes as JSON");
}

EntryKind kind_of(const Arguments& arguments) {
    return static_cast<EntryKind>(std::find(kinds.begin(), kinds.end(), arguments.kind) - kinds.begin());
}

Status run_rename(Arguments arguments) {
    const auto folder = take_project(arguments.words, 2);
    if (arguments.words.size() != 2) {
        say_error("two names are wanted: kiai rename OLD NEW");
        return wrong_use;
    }
    return report(rename_entry(folder, arguments.words[0], arguments.words[1], kind_of(arguments)), arguments.json);
}

Status run_remove(Arguments arguments) {
    const auto folder = take_project(arguments.words, 1);
    if (arguments.words.size() != 1) {
        say_error("one name is wanted: kiai remove NAME");
        return wrong_use;
    }
    return report(remove_entry(folder, arguments.words[0], {kind_of(arguments), arguments.delete_file}),
                  arguments.json);
}

} // namespace

static void describe_members(Shape<Change>& shape) {
    shape.has("line", "The line of kiai.toml, from 1.", &Change::line)
        .has("before", "The line before the edit; empty if the line is new.", &Change::before)
        .has("after", "The line after the edit; empty if the line was removed.", &Change::after);
}

static void describe_members(Shape<EditResult>& shape) {
    shape.has("changes", "The lines of kiai.toml that changed.", &EditResult::changes)
        .has("remarks", "What else there is to know about the edit.", &EditResult::remarks);
}

const Document edit_document{"edit", "The changes of `kiai rename --json` and `kiai remove --json`", 1,
                             [] { return shape_of<EditResult>().schema(); }};

void add_rename(Commands& commands) {
    auto arguments = std::make_shared<Arguments>();
    Command command = commands.add("rename", "Give an entry another name; what names it follows",
                                   "kiai rename marble-run peg-1 brass-1");
    command.option("words", arguments->words, "The project's folder, then the old name and the new one")
        .required()
        .expects(1, 3);
    add_kind(command, *arguments);
    command.runs([arguments] { return run_rename(*arguments); });
}

void add_remove(Commands& commands) {
    auto arguments = std::make_shared<Arguments>();
    Command command =
        commands.add("remove", "Take an entry out of a project", "kiai remove marble-run oak-9 --delete-file");
    command.option("words", arguments->words, "The project's folder, then the name").required().expects(1, 2);
    add_kind(command, *arguments);
    command.flag("--delete-file", arguments->delete_file, "Delete a clip's audio file too");
    command.runs([arguments] { return run_remove(*arguments); });
}

} // namespace kiai::tool
