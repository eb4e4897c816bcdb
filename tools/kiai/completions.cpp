// Writes completions for the shells of Debian: one self-contained script each.
#include "help.h"

#include <fmt/format.h>

#include <algorithm>

namespace kiai::tool {
namespace {

/// Returns both names of an option.
std::vector<std::string> names_of(const OptionText& option) {
    std::vector<std::string> names{option.name};
    if (!option.letter.empty()) names.push_back(option.letter);
    return names;
}

/// Returns the words that an operand of the command can be.
std::vector<std::string> choices_of(const CommandText& command) {
    std::vector<std::string> words;
    for (const OperandText& operand : command.operands)
        words.insert(words.end(), operand.choices.begin(), operand.choices.end());
    return words;
}

/// Returns the text in single quotes, for any of the shells.
std::string quoted(const std::string& text) {
    std::string out = "'";
    for (const char c : text) out += c == '\'' ? "'\\''" : std::string(1, c);
    return out + "'";
}

std::string bash(const Commands& commands) {
    std::string names, values, options, words;
    for (const CommandText& command : commands.all()) {
        names += (names.empty() ? "" : " ") + command.name;
        std::string own;
        for (const OptionText& option : all_options(command)) {
            own += (own.empty() ? "" : " ") + fmt::format("{}", fmt::join(names_of(option), " "));
            if (option.values == 0) continue;
            const std::string action =
                !option.choices.empty()
                    ? fmt::format("COMPREPLY=($(compgen -W '{}' -- \"$current\"))", fmt::join(option.choices, " "))
                : option.completes == Completes::folder
                    ? std::string("compopt -o filenames; COMPREPLY=($(compgen -d -- \"$current\"))")
                : option.completes == Completes::file
                    ? std::string("compopt -o filenames; COMPREPLY=($(compgen -f -- \"$current\"))")
                    : std::string("COMPREPLY=()");
            std::string pattern;
            for (const std::string& name : names_of(option))
                pattern += (pattern.empty() ? "'" : " | '") + command.name + ' ' + name + "'";
            values += fmt::format("        {}) {}; return ;;\n", pattern, action);
        }
        options += fmt::format("            {}) words='{}' ;;\n", command.name, own);
        if (const auto choices = choices_of(command); !choices.empty())
            words += fmt::format("            {}) words='{}' ;;\n", command.name, fmt::join(choices, " "));
    }
    return fmt::format(R"(# Completion of kiai for bash.
_kiai() {{
    local current=${{COMP_WORDS[COMP_CWORD]}} previous=${{COMP_WORDS[COMP_CWORD - 1]}} command= words= i
    for ((i = 1; i < COMP_CWORD; ++i)); do
        case ${{COMP_WORDS[i]}} in
            -C | --project) i=$((i + 1)) ;;
            -*) ;;
            *) command=${{COMP_WORDS[i]}}; break ;;
        esac
    done
    if [ "$previous" = -C ] || [ "$previous" = --project ]; then
        compopt -o filenames
        COMPREPLY=($(compgen -d -- "$current"))
        return
    fi
    if [ -z "$command" ]; then
        COMPREPLY=($(compgen -W '{} -C --help --version' -- "$current"))
        return
    fi
    case "$command $previous" in
{}    esac
    if [[ $current == -* ]]; then
        case $command in
{}        esac
        COMPREPLY=($(compgen -W "$words" -- "$current"))
    else
        case $command in
{}        esac
        compopt -o filenames
        COMPREPLY=($(compgen -W "$words" -- "$current") $(compgen -f -- "$current"))
    fi
}}
complete -F _kiai kiai
)",
                       names, values, options, words);
}

std::string zsh(const Commands& commands) {
    const auto escaped = [](std::string text) { // what _arguments and _describe read as punctuation
        for (std::size_t at = 0; (at = text.find_first_of("[]:", at)) != std::string::npos; at += 2)
            text.insert(at, 1, '\\');
        return text;
    };
    std::string list, cases;
    for (const CommandText& command : commands.all()) {
        list += "        " + quoted(command.name + ':' + escaped(command.brief)) + '\n';
        cases += fmt::format("        {})\n            _arguments", command.name);
        for (const OptionText& option : all_options(command)) {
            std::string value;
            for (int i = 0; i < option.values; ++i)
                value += fmt::format(":{}:{}", escaped(option.placeholder),
                                     !option.choices.empty() ? fmt::format("({})", fmt::join(option.choices, " "))
                                     : option.completes == Completes::folder ? "_files -/"
                                     : option.completes == Completes::file   ? "_files"
                                                                             : " ");
            for (const std::string& name : names_of(option))
                cases += " \\\n                " + quoted(fmt::format("*{}[{}]{}", name, escaped(option.text), value));
        }
        const auto choices = choices_of(command);
        cases +=
            " \\\n                " + quoted(choices.empty() ? std::string("*:file:_files")
                                                             : fmt::format("*:word:({})", fmt::join(choices, " ")));
        cases += " ;;\n";
    }
    return fmt::format(R"(#compdef kiai
_kiai() {{
    local -a commands
    commands=(
{}    )
    if (( CURRENT == 2 )); then
        _describe command commands
        return
    fi
    local command=$words[2]
    shift words
    (( CURRENT-- ))
    case $command in
{}    esac
}}
_kiai "$@"
)",
                       list, cases);
}

std::string fish(const Commands& commands) {
    std::string text = "# Completion of kiai for fish.\ncomplete -c kiai -n __fish_use_subcommand -f\n";
    for (const CommandText& command : commands.all()) {
        text +=
            fmt::format("complete -c kiai -n __fish_use_subcommand -a {} -d {}\n", command.name, quoted(command.brief));
        const std::string when = fmt::format("complete -c kiai -n '__fish_seen_subcommand_from {}'", command.name);
        for (const OptionText& option : all_options(command)) {
            text += fmt::format("{} -l {}", when, option.name.substr(2));
            if (!option.letter.empty()) text += " -s " + option.letter.substr(1);
            if (option.values > 0) text += option.completes == Completes::nothing ? " -x" : " -r";
            if (!option.choices.empty()) text += fmt::format(" -a '{}'", fmt::join(option.choices, " "));
            text += " -d " + quoted(option.text) + '\n';
        }
        if (const auto choices = choices_of(command); !choices.empty())
            text += fmt::format("{} -a '{}'\n", when, fmt::join(choices, " "));
    }
    return text;
}

} // namespace

std::string completions(const Commands& commands, const std::string& shell) {
    return shell == "bash" ? bash(commands) : shell == "zsh" ? zsh(commands) : fish(commands);
}

} // namespace kiai::tool
