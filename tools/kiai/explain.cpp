// kiai explain: explains a finding or a decision.
#include "command.h"
#include "usage.h"

#include <kiai/decision.h>

#include <fmt/format.h>

#include <iostream>
#include <memory>

namespace kiai::tool {
namespace {

Status run(const Operands& words) {
    take_operands(words);
    const std::string& word = words.front();
    std::vector<std::string> known;
    for (const FindingCode code : all_finding_codes()) {
        known.emplace_back(to_string(code));
        if (word == to_string(code)) {
            std::cout << fmt::format("{} ({})\n{}\n", word, to_string(usual_severity(code)), explain(code));
            return done;
        }
    }
    for (int number = 0; number <= static_cast<int>(Outcome::last); ++number) {
        const auto outcome = static_cast<Outcome>(number);
        known.emplace_back(to_string(outcome));
        if (word == to_string(outcome)) {
            std::cout << fmt::format("{} (decision)\n{}\n", word, explain(outcome));
            return done;
        }
    }
    throw WrongUse(unknown_word("finding or decision", word, known) + "; `kiai check --list` lists all findings");
}

} // namespace

void add_explain(Commands& commands) {
    auto words = std::make_shared<Operands>();
    Command command = commands.add(Group::help, "explain", "Explain a finding or a decision");
    command.operands(*words, {{"CODE", "The word in brackets after a finding, or the decision in a log", {}, {}}});
    command.example("kiai explain leading-silence");
    command.runs([words] { return run(*words); });
}

} // namespace kiai::tool
