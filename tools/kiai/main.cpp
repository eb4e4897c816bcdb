// The command-line tool: reads the arguments, runs the chosen command, returns its status.
#include "command.h"
#include "documents.h"

#include <algorithm>
#include <csignal>
#include <cstdio>
#include <exception>
#include <iostream>
#include <new>
#include <string>
#include <vector>

namespace kiai::tool {
namespace {

void add_all(Commands& commands) {
    add_new(commands);
    add_add(commands);
    add_bind(commands);
    add_unbind(commands);
    add_rename(commands);
    add_remove(commands);
    add_list(commands);
    add_check(commands);
    add_credits(commands);
    add_hear(commands);
    add_show(commands);
    add_even(commands);
    add_convert(commands);
    add_trim(commands);
    add_try(commands);
    add_rehearse(commands);
    add_fire(commands);
    add_simulate(commands);
    add_why(commands);
    add_trace(commands);
    add_zones(commands);
    add_markers(commands);
    add_names(commands);
    add_pack(commands);
    add_report(commands);
    add_demo(commands);
    add_explain(commands);
    add_help(commands);
}

Status run(const std::vector<std::string>& arguments) {
    try {
        Commands commands;
        add_all(commands);
        if (const auto ended = commands.read(arguments)) return *ended;
        return commands.run();
    } catch (const WrongUse& error) {
        say_error(error.what());
        return wrong_use;
    } catch (const std::bad_alloc&) {
        say_error("there is not enough memory for this project");
        return failed;
    } catch (const std::exception& error) { // of the standard library: the disk, the memory
        say_error(error.what());
        return failed;
    }
}

} // namespace
} // namespace kiai::tool

int main(int count, char** arguments) {
    using namespace kiai::tool;
    std::signal(SIGXFSZ, SIG_IGN); // a file that grows too large is an error of the command, not the end of the tool
    const std::vector<std::string> words(arguments + std::min(count, 1), arguments + count);
    const Status status = run(words);
    if (status != done && std::count(words.begin(), words.end(), "--json") > 0 && !document_was_printed())
        std::cout << print_document(error_document, ErrorReport{status, said()});
    std::cout.flush();
    if (std::cout.good() && std::fflush(stdout) == 0) return status;
    say_error("standard output cannot be written");
    return not_written;
}
