// The command-line tool: reads the arguments, runs the chosen command, gives its status.
#include "command.h"

#include <csignal>
#include <cstdio>
#include <exception>
#include <iostream>
#include <new>

int main(int count, char** arguments) {
    using namespace kiai::tool;
    Commands commands;
    std::signal(SIGXFSZ, SIG_IGN); // a file that grows too large is an error that is told, not the end
    add_new(commands);
    add_add(commands);
    add_list(commands);
    add_show(commands);
    add_check(commands);
    add_rename(commands);
    add_remove(commands);
    add_credits(commands);
    add_hear(commands);
    add_even(commands);
    add_trace(commands);
    add_zones(commands);
    add_rehearse(commands);
    add_fire(commands);
    add_why(commands);
    add_simulate(commands);
    add_names(commands);
    add_pack(commands);
    add_demo(commands);
    if (const auto ended = commands.read(count, arguments)) return *ended;
    try {
        const Status status = commands.run();
        std::cout.flush();
        if (std::cout.good() && std::fflush(stdout) == 0) return status;
        say_error("standard output cannot be written");
        return not_written;
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
