// kiai new: a project to start from.
#include "command.h"
#include "documents.h"

#include <kiai/workshop/add.h>

#include <fmt/format.h>

#include <iostream>
#include <memory>

namespace kiai::tool {
namespace {

struct Arguments {
    std::string folder;
    bool json = false;
};

Status run(const Arguments& arguments) {
    if (const std::string error = new_project(arguments.folder); !error.empty()) {
        say_error(error + "; choose another folder, or `kiai add` to this one");
        return failed;
    }
    if (arguments.json) {
        std::cout << print_document(new_document, arguments);
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

static void describe_members(Shape<Arguments>& shape) {
    shape.has("project", "The folder of the project that was made.", &Arguments::folder);
}

const Document new_document{"new", "The project of `kiai new --json`", 1,
                            [] { return shape_of<Arguments>().schema(); }};

void add_new(Commands& commands) {
    auto arguments = std::make_shared<Arguments>();
    Command command = commands.add("new", "Start a project that can be heard at once", "kiai new my-game/sound");
    command.option("folder", arguments->folder, "Where: a folder that has no kiai.toml yet").required();
    command.flag("--json", arguments->json, "Print what was made as JSON");
    command.runs([arguments] { return run(*arguments); });
}

} // namespace kiai::tool
