// What `fire` and `simulate` share: how a trigger is made to happen, and which bindings are meant by it.
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

/// `--ignore-conditions --strength --place --value --seed`.
void add_by_hand(Command& command, ByHand& by_hand);
/// Moves what `--value` gave into the settings; false, and a reason on standard error, where it cannot be read.
bool take_values(ByHand& by_hand);

/// Returns the bindings to the trigger that the words name. If there is none, prints the reason, and `status` is
/// what the command ends with.
std::vector<int> bindings_named(const Project& project, const ByHand& by_hand, Status& status);

} // namespace kiai::tool
