// kiai names: writes a C++ header with a constant for each name.
#include "claim.h"
#include "command.h"

#include <kiai/workshop/names.h>

#include <fmt/format.h>

#include <fstream>
#include <iostream>
#include <iterator>
#include <memory>

namespace kiai::tool {
namespace {

struct NamesArguments {
    Operands words;
    std::string out, space = "names";
};

constexpr const char* names_mark = "Made by `kiai names`";

/// Returns true if the file already has this content. An unchanged file keeps its time, so that nothing is compiled
/// again.
bool holds(const std::string& path, const std::string& text) {
    std::ifstream file(path, std::ios::binary);
    return file && std::string(std::istreambuf_iterator<char>(file), {}) == text;
}

Status run(NamesArguments arguments) {
    const NamesHeader header = names_header(take_project(arguments.words), arguments.space);
    if (!say_findings(header.findings, Severity::error)) return failed;
    if (arguments.out.empty()) {
        std::cout << header.text;
        return done;
    }
    if (const Status status = claim_output(arguments.out, {".h", ".hpp", ".hh", ".hxx"}, names_mark); status != done)
        return status;
    if (holds(arguments.out, header.text)) {
        std::cerr << arguments.out << " is up to date\n";
        return done;
    }
    std::ofstream file(arguments.out, std::ios::binary);
    file << header.text;
    if (!file.flush()) {
        say_error(arguments.out + ": cannot be written; choose a place that can be");
        return not_written;
    }
    std::cerr << "wrote " << arguments.out << '\n';
    return done;
}

} // namespace

void add_names(Commands& commands) {
    auto arguments = std::make_shared<NamesArguments>();
    Command command = commands.add(Group::shipping, "names", "Make a C++ header with the names of a project");
    command.project(arguments->words);
    command.option("-o,--out", arguments->out, "FILE", "Write the header to a file: .h, .hpp, .hh, .hxx")
        .completes(Completes::file);
    command.option("--namespace", arguments->space, "NAME", "C++ namespace of the constants").shows_default();
    add_force(command);
    command.explain("With the header, a wrong name does not compile. An unchanged header is not written again.");
    command.fails_if("the project has an error");
    command.example("kiai names marble-run --out names.h");
    command.runs([arguments] { return run(*arguments); });
}

} // namespace kiai::tool
