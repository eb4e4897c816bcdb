// kiai help: prints the overview, the help of a command, its manual page, or completions of a shell.
#include "command.h"
#include "help.h"

#include <filesystem>
#include <fstream>
#include <iostream>
#include <memory>

namespace kiai::tool {
namespace {

struct HelpArguments {
    Operands words;
    std::string completion, share;
    bool manual = false;
};

/// Writes a file below the folder, which is made if it is missing.
bool write(const std::filesystem::path& file, const std::string& text) {
    std::error_code error;
    std::filesystem::create_directories(file.parent_path(), error);
    std::ofstream out(file, std::ios::binary);
    out << text;
    if (out.flush()) return true;
    say_error(file.string() + ": cannot be written");
    return false;
}

/// Writes the files for a system's folder /usr/share.
Status write_share(const Commands& commands, const std::filesystem::path& share) {
    bool good = write(share / "man/man1/kiai.1", manual_page(commands)) &&
                write(share / "bash-completion/completions/kiai", completions(commands, "bash")) &&
                write(share / "zsh/vendor-completions/_kiai", completions(commands, "zsh")) &&
                write(share / "fish/vendor_completions.d/kiai.fish", completions(commands, "fish"));
    for (const CommandText& command : commands.all())
        good = good && write(share / "man/man1" / ("kiai-" + command.name + ".1"), manual_page(command));
    return good ? done : not_written;
}

Status run(const Commands& commands, const HelpArguments& arguments) {
    if (!arguments.completion.empty()) {
        std::cout << completions(commands, arguments.completion);
        return done;
    }
    if (!arguments.share.empty()) return write_share(commands, arguments.share);
    if (arguments.words.size() > 1) throw WrongUse("one command at a time: kiai help COMMAND");
    if (arguments.words.empty()) {
        std::cout << (arguments.manual ? manual_page(commands) : overview(commands));
        return done;
    }
    const CommandText& command = commands.at(arguments.words.front());
    std::cout << (arguments.manual ? manual_page(command) : help_page(command));
    return done;
}

} // namespace

void add_help(Commands& commands) {
    auto arguments = std::make_shared<HelpArguments>();
    Command command = commands.add(Group::help, "help", "Explain a command, or list all commands");
    std::vector<std::string> names;
    for (const CommandText& other : commands.all()) names.push_back(other.name);
    command.operands(arguments->words, {{"[COMMAND]", "The command to explain", Completes::nothing, names}});
    command.flag("--man", arguments->manual, "Print the manual page, in the format of man");
    command.option("--completion", arguments->completion, "SHELL", "Print a script that completes commands and options")
        .one_of({"bash", "zsh", "fish"});
    command.option("--share", arguments->share, "FOLDER", "Write all manual pages and completions below this folder")
        .completes(Completes::folder);
    command.example("kiai help rehearse");
    command.example("kiai help --completion bash > ~/.local/share/bash-completion/completions/kiai");
    command.runs([&commands, arguments] { return run(commands, *arguments); });
}

} // namespace kiai::tool
