#include "by_hand.h"

#include <fmt/format.h>

#include <iostream>

namespace kiai::tool {

void add_by_hand(Command& command, ByHand& by_hand) {
    command.flag("--ignore-conditions", by_hand.settings.anyway,
                 "Ignore `when`, `once`, `every`, `chance` and `gap` (default: evaluate them in the initial state)");
    command.option("--strength", by_hand.settings.strength, "NUMBER", "Strength of a contact")
        .shows_default()
        .at_least(0.0);
    command.option("--place", by_hand.settings.place, "NUMBER", "Place of a contact, from left to right")
        .shows_default()
        .in_range(-1.0, 1.0);
    command.option("--value", by_hand.values, "NAME=NUMBER", "Set a value of a notice (script event); may be repeated")
        .repeatable();
    add_seed(command, by_hand.settings.seed);
}

bool take_values(ByHand& by_hand) {
    std::map<std::string, float> values;
    if (!take_values(by_hand.values, "--value", values)) return false;
    for (const auto& [name, value] : values) by_hand.settings.values.push_back({name, value});
    return true;
}

std::vector<int> bindings_named(const Project& project, const ByHand& by_hand, Status& status) {
    const std::string text = joined(by_hand.words);
    const auto trigger = read_trigger(text);
    if (!trigger) {
        say_error(fmt::format("unknown trigger \"{}\"; write press hopper, press 118 82, key-down KeyT, contact marble "
                              "oak, notice run-complete …",
                              text));
        status = wrong_use;
        return {};
    }
    std::vector<int> numbers = bindings_to(project, *trigger);
    if (numbers.empty()) {
        std::cerr << why_silent(project, text).message() << '\n';
        status = failed;
    }
    return numbers;
}

} // namespace kiai::tool
