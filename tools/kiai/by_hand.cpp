#include "by_hand.h"

#include <fmt/format.h>

#include <iostream>

namespace kiai::tool {

void add_by_hand(Command& command, ByHand& by_hand) {
    command.flag("--ignore-conditions", by_hand.settings.anyway, "Set conditions aside; else they are as at the start");
    command.option("--strength", by_hand.settings.strength, "Of contacts").shows_default().at_least(0.0);
    command.option("--place", by_hand.settings.place, "Of contacts, left to right").shows_default().in_range(-1.0, 1.0);
    command.option("--value", by_hand.values, "A value of the notice: NAME=NUMBER");
    command.option("--seed", by_hand.settings.seed, "Seed of all chance").shows_default();
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
        say_error(fmt::format("\"{}\" is no trigger; write press hopper, press 118 82, key-down KeyT, contact marble "
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
