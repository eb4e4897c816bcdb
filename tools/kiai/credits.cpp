// kiai credits: lists the authors of the clips, to ship with an app.
#include "claim.h"
#include "command.h"
#include "documents.h"

#include <kiai/workshop/credits.h>

#include <fmt/format.h>

#include <fstream>
#include <iostream>
#include <memory>

namespace kiai::tool {
namespace {

struct CreditsArguments {
    Operands words;
    std::string out;
    bool markdown = false, json = false;
};

Status run(CreditsArguments arguments) {
    const Credits credits = gather_credits(take_project(arguments.words));
    const bool good = say_findings(credits.findings, Severity::error);
    const std::string text = arguments.json       ? print_document(credits_document, credits)
                             : arguments.markdown ? credits_as_markdown(credits)
                                                  : credits_as_text(credits);
    if (const Status status =
            claim_output(arguments.out, {".txt", ".md", ".json", ""}, text.substr(0, text.find('\n')).c_str());
        status != done)
        return status;
    if (arguments.out.empty()) {
        std::cout << text;
    } else {
        std::ofstream file(arguments.out, std::ios::binary);
        file << text;
        if (!file.flush()) {
            say_error(arguments.out + ": cannot be written; choose a place that can be");
            return not_written;
        }
        std::cerr << "wrote " << arguments.out << '\n';
    }
    if (!credits.unrecorded.empty())
        say_error(fmt::format("{} without a record: give each an author and a licence, or its folder",
                              counted(credits.unrecorded.size(), "clip")));
    return good && credits.unrecorded.empty() ? done : failed;
}

} // namespace

static void describe_members(Shape<CreditGroup>& shape) {
    shape.has("author", "Who made the clips.", &CreditGroup::author)
        .has("licence", "The licence of the clips: an SPDX identifier.", &CreditGroup::licence)
        .has("sources", "Where the clips are from.", &CreditGroup::sources)
        .has("notes", "The notes of the clips.", &CreditGroup::notes)
        .has("clips", "The names of the clips.", &CreditGroup::clips);
}

static void describe_members(Shape<Credits>& shape) {
    shape.has("project", "The name of the project.", &Credits::project)
        .has("groups", "The clips, grouped by author and licence.", &Credits::groups)
        .has("unrecorded", "The names of the clips without an author or a licence.", &Credits::unrecorded);
}

const Document credits_document{"credits", "The authors and licences of `kiai credits --json`", 1,
                                [] { return shape_of<Credits>().schema(); }};

void add_credits(Commands& commands) {
    auto arguments = std::make_shared<CreditsArguments>();
    Command command = commands.add(Group::project, "credits", "List clips by author and licence");
    command.project(arguments->words);
    command.option("-o,--out", arguments->out, "FILE", "Write the list to a file: .txt, .md, .json")
        .completes(Completes::file);
    add_force(command);
    const Option markdown = command.flag("--markdown", arguments->markdown, "Print Markdown");
    add_json(command, arguments->json).excludes(markdown);
    command.fails_if("a clip has no author or no licence");
    command.example("kiai credits marble-run --markdown --out CREDITS.md");
    command.runs([arguments] { return run(*arguments); });
}

} // namespace kiai::tool
