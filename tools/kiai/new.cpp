// kiai new: makes a project to start from.
#include "command.h"
#include "documents.h"

#include <kiai/workshop/add.h>

#include <fmt/format.h>

#include <filesystem>
#include <iostream>
#include <memory>

namespace kiai::tool {
namespace {

struct NewArguments {
    Operands words;
    std::string folder;
    bool empty = false, dry_run = false, json = false;
};

Status run(NewArguments arguments) {
    take_operands(arguments.words);
    arguments.folder = arguments.words.front();
    if (arguments.dry_run) {
        std::error_code error;
        if (std::filesystem::exists(std::filesystem::path(arguments.folder) / "kiai.toml", error)) {
            say_error(arguments.folder + " has a kiai.toml already; choose another folder, or `kiai add` to this one");
            return failed;
        }
        std::cout << fmt::format("would write {}/kiai.toml{}\n", arguments.folder,
                                 arguments.empty ? "" : " and three clips");
        return done;
    }
    if (const std::string error = new_project(arguments.folder, arguments.empty); !error.empty()) {
        say_error(error + "; choose another folder, or `kiai add` to this one");
        return failed;
    }
    if (arguments.json) {
        std::cout << print_document(new_document, arguments);
        return done;
    }
    if (arguments.empty) {
        std::cout << fmt::format("wrote {0}/kiai.toml, without clips\nyour files:  kiai add {0} FILE…\n",
                                 arguments.folder);
        return done;
    }
    std::cout << fmt::format("wrote {0}/kiai.toml: three clips, one sound, one binding\n"
                             "hear it:     kiai hear {0} strike --times 3\n"
                             "your files:  kiai add {0} FILE…\n"
                             "in your app: auto sound = kiai::open(\"{0}\"); sound.key_tap(\"Space\");\n",
                             arguments.folder);
    return done;
}

} // namespace

static void describe_members(Shape<NewArguments>& shape) {
    shape.has("project", "The folder of the project that was made.", &NewArguments::folder);
}

const Document new_document{"new", "The project of `kiai new --json`", 1,
                            [] { return shape_of<NewArguments>().schema(); }};

void add_new(Commands& commands) {
    auto arguments = std::make_shared<NewArguments>();
    Command command = commands.add(Group::project, "new", "Make a project that plays a first sound");
    command.operands(arguments->words,
                     {{"FOLDER", "A folder without a kiai.toml; made if missing", Completes::folder, {}}});
    command.flag("--empty", arguments->empty, "Make no example clips");
    add_dry_run(command, arguments->dry_run);
    add_json(command, arguments->json);
    command.fails_if("the project was not made");
    command.example("kiai new my-game/sound");
    command.runs([arguments] { return run(*arguments); });
}

} // namespace kiai::tool
