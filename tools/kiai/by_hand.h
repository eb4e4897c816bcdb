// Shared by `fire` and `simulate`: how a trigger is made, and which bindings it means.
#pragma once

#include "command.h"

#include <kiai/workshop/fire.h>

#include <string>
#include <vector>

namespace kiai::tool {

struct ByHand {
    Operands words;                  ///< the project, then the trigger
    std::vector<std::string> values; ///< of a notice: `speed=2.5`
    FireSettings settings;
};

/// Declares `--ignore-conditions --strength --place --value --seed`.
void add_by_hand(Command& command, ByHand& by_hand);
/// Moves the values of `--value` into the settings. Returns false, after printing why, if they are invalid.
bool take_values(ByHand& by_hand);

/// Returns the bindings to the trigger that the words name. If there is none, prints the reason and sets `status` to
/// the command's exit status.
std::vector<int> bindings_named(const Project& project, const ByHand& by_hand, Status& status);

} // namespace kiai::tool
