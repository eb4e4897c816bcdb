#include "usage.h"

#include "core/model/near.h"

#include <fmt/format.h>

#include <algorithm>
#include <utility>

namespace kiai::tool {
namespace {

struct Renamed {
    const char* before;
    const char* now;
    const char* command; ///< of one command alone; nullptr: of all
};

/// The present names of options of older versions.
constexpr Renamed renamed[] = {{"--say", "--decisions", nullptr},
                               {"--against", "--baseline", nullptr},
                               {"--beside", "--compare", nullptr},
                               {"--pieces", "--failures", nullptr},
                               {"--anyway", "--ignore-conditions", nullptr},
                               {"--apart", "--interval", nullptr},
                               {"--codes", "--list", nullptr},
                               {"--keys", "--schema", nullptr},
                               {"--refer", "--in-place", nullptr},
                               {"--mend", "--fix", nullptr},
                               {"--from", "--start", nullptr},
                               {"--to", "--loudness", "even"},
                               {"--to", "--end", nullptr}};

std::string suggestion(const std::string& word, const std::vector<std::string>& words) {
    const std::string near = model::nearest(word, words);
    return near.empty() ? std::string() : fmt::format("; did you mean \"{}\"?", near);
}

bool is_option(const std::string& argument) {
    return argument.size() > 1 && argument[0] == '-' && !(argument[1] >= '0' && argument[1] <= '9') &&
           argument[1] != '.';
}

const OptionText* find(const std::string& name, const CommandText* command) {
    const auto in = [&](const auto& options) -> const OptionText* {
        for (const OptionText& option : options)
            if (name == option.name || name == option.letter || name == option.alias) return &option;
        return nullptr;
    };
    const OptionText* const own = command ? in(command->options) : nullptr;
    return own ? own : in(common_options());
}

[[noreturn]] void refuse_option(const std::string& name, const CommandText* command) {
    const std::string own = command ? command->name : "";
    for (const Renamed& one : renamed)
        if (name == one.before && (!one.command || own == one.command) && find(one.now, command))
            throw WrongUse(fmt::format("{} is now called {}", name, one.now));
    if (own == "even" && name == "--write")
        throw WrongUse("--write is now what `kiai even` does; --dry-run only proposes the gains");
    std::vector<std::string> names;
    for (const OptionText& option : common_options()) names.push_back(option.name);
    if (command)
        for (const OptionText& option : command->options) names.push_back(option.name);
    throw WrongUse(fmt::format("unknown option {}{}; see kiai {}--help", name, suggestion(name, names),
                               own.empty() ? "" : own + " "));
}

/// Returns the given options in order.
std::vector<const OptionText*> options_of(const std::vector<std::string>& arguments, Asked& asked,
                                          const Commands& commands) {
    std::vector<const OptionText*> given;
    for (std::size_t i = 0; i < arguments.size() && arguments[i] != "--"; ++i) {
        const std::string& argument = arguments[i];
        if (!is_option(argument)) {
            if (!asked.command) asked.command = &commands.at(argument);
            continue;
        }
        const std::size_t equals = argument.find('=');
        const std::string name = argument.substr(0, equals);
        if (!asked.command && (name == "--version" || name == "-V")) {
            asked.version = true;
            continue;
        }
        const OptionText* const option = find(name, asked.command);
        if (!option) refuse_option(name, asked.command);
        asked.help = asked.help || option->name == "--help";
        given.push_back(option);
        if (option->values == 0 && equals != std::string::npos)
            throw WrongUse(fmt::format("{} takes no value", option->name));
        const auto values = static_cast<std::size_t>(option->values) - (equals == std::string::npos ? 0 : 1);
        for (std::size_t value = 1; option->values > 0 && value <= values; ++value)
            if (i + value >= arguments.size() || (is_option(arguments[i + value]) && arguments[i + value] != "-"))
                throw WrongUse(fmt::format("{0} needs a value: {0} {1}", option->name, option->placeholder));
        i += option->values > 0 ? values : 0;
    }
    return given;
}

} // namespace

std::string unknown_word(const std::string& what, const std::string& word, const std::vector<std::string>& words) {
    return fmt::format("unknown {} \"{}\"{}", what, word, suggestion(word, words));
}

std::string unknown_command(const std::string& name, const std::deque<CommandText>& commands) {
    std::vector<std::string> names;
    for (const CommandText& command : commands) names.push_back(command.name);
    return unknown_word("command", name, names) + "; `kiai help` lists all commands";
}

std::string not_one_of(const std::string& what, const std::string& word, const std::vector<std::string>& words) {
    return fmt::format("{} takes one of {}, not \"{}\"{}", what, fmt::join(words, ", "), word, suggestion(word, words));
}

Asked check_usage(const std::vector<std::string>& arguments, const Commands& commands) {
    Asked asked;
    const std::vector<const OptionText*> given = options_of(arguments, asked, commands);
    if (asked.help) return asked;
    for (const OptionText* option : given)
        for (const OptionText* other : given)
            if (std::count(option->excluded.begin(), option->excluded.end(), other->name) > 0)
                throw WrongUse(fmt::format("{} and {} cannot be used together", option->name, other->name));
    return asked;
}

} // namespace kiai::tool
