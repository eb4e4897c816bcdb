// kiai new: a project to start from.
#include "command.h"

#include <kiai/workshop/add.h>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

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
        std::cout << nlohmann::json{{"project", arguments.folder}}.dump(2) << '\n';
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

void add_new(Commands& commands) {
    auto arguments = std::make_shared<Arguments>();
    Command command = commands.add("new", "Start a project that can be heard at once", "kiai new my-game/sound");
    command.option("folder", arguments->folder, "Where: a folder that has no kiai.toml yet").required();
    command.flag("--json", arguments->json, "Print what was made as JSON");
    command.runs([arguments] { return run(*arguments); });
}

} // namespace kiai::tool
