// Checks arguments against the declared commands, and explains what is wrong.
#pragma once

#include "options.h"

namespace kiai::tool {

/// What the arguments ask for.
struct Asked {
    const CommandText* command = nullptr;
    bool help = false, version = false;
};

/// Throws WrongUse for an unknown command or option, a missing value, and options that exclude each other.
Asked check_usage(const std::vector<std::string>& arguments, const Commands& commands);

/// Returns `unknown scope "bnech"; did you mean "bench"?`
std::string unknown_word(const std::string& what, const std::string& word, const std::vector<std::string>& words);
std::string unknown_command(const std::string& name, const std::deque<CommandText>& commands);
/// Returns `--state takes one of used, unused …, not "usd"; did you mean "used"?`
std::string not_one_of(const std::string& what, const std::string& word, const std::vector<std::string>& words);

} // namespace kiai::tool
