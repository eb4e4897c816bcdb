// The command-line tool: reads the arguments, runs the chosen command, gives its status.
#include "command.h"

#include <kiai/version.h>

#include <csignal>
#include <cstdio>
#include <exception>
#include <iostream>

int main(int count, char** arguments) {
    using namespace kiai::tool;
    CLI::App app{"Kiai: sound for games and interactive apps"};
    app.set_version_flag("--version", kiai::version);
    app.require_subcommand(1);
    app.footer("Each command tells more: kiai check --help");
    std::signal(SIGXFSZ, SIG_IGN); // a file that grows too large is an error that is told, not the end
    Chosen chosen;
    add_new(app, chosen);
    add_add(app, chosen);
    add_list(app, chosen);
    add_show(app, chosen);
    add_check(app, chosen);
    add_rename(app, chosen);
    add_remove(app, chosen);
    add_credits(app, chosen);
    add_hear(app, chosen);
    add_even(app, chosen);
    add_trace(app, chosen);
    add_zones(app, chosen);
    add_rehearse(app, chosen);
    add_fire(app, chosen);
    add_why(app, chosen);
    add_simulate(app, chosen);
    add_demo(app, chosen);
    try {
        app.parse(count, arguments);
    } catch (const CLI::ParseError& error) {
        return app.exit(error) == 0 ? done : wrong_use;
    }
    try {
        const Status status = chosen();
        std::cout.flush();
        if (std::cout.good() && std::fflush(stdout) == 0) return status;
        say_error("standard output cannot be written");
        return not_written;
    } catch (const WrongUse& error) {
        say_error(error.what());
        return wrong_use;
    } catch (const std::exception& error) { // of the standard library: the disk, the memory
        say_error(error.what());
        return failed;
    }
}
