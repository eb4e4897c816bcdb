#include "help.h"

#include <kiai/version.h>

#include <fmt/format.h>

#include <algorithm>
#include <sstream>

namespace kiai::tool {
namespace {

constexpr std::size_t width = 80, column = 24;

/// Wraps `text` before `width`, and indents all lines but the first.
std::string wrapped(const std::string& text, std::size_t indent) {
    std::istringstream words(text);
    std::string out, line;
    for (std::string word; words >> word;) {
        if (!line.empty() && indent + line.size() + 1 + word.size() > width) {
            out += line + '\n' + std::string(indent, ' ');
            line.clear();
        }
        line += (line.empty() ? "" : " ") + word;
    }
    return out + line + '\n';
}

/// Returns a name, with its text in the next column.
std::string row(const std::string& name, const std::string& text) {
    const std::string start = name.size() + 2 > column ? name + '\n' + std::string(column, ' ')
                                                       : name + std::string(column - name.size(), ' ');
    return start + wrapped(text, column);
}

std::string name_of(const OptionText& option) {
    return fmt::format("  {}{}{}", option.letter.empty() ? "    " : option.letter + ", ", option.name,
                       option.placeholder.empty() ? "" : ' ' + option.placeholder);
}

} // namespace

const char* to_string(Group group) noexcept {
    static constexpr const char* words[] = {"Project", "Files", "Runs", "Shipping", "Help"};
    return words[static_cast<int>(group)];
}

const OperandText& project_operand() {
    static const OperandText project{"PROJECT",
                                     "A folder with a kiai.toml (default: the current folder, or the nearest above)",
                                     Completes::folder,
                                     {}};
    return project;
}

std::string full_text(const OptionText& option) {
    std::string details = option.choices.empty() ? option.range : fmt::format("{}", fmt::join(option.choices, ", "));
    if (!option.default_value.empty()) details += (details.empty() ? "" : "; ") + ("default " + option.default_value);
    return details.empty() ? option.text : fmt::format("{} ({})", option.text, details);
}

std::vector<std::pair<int, std::string>> statuses_of(const CommandText& command) {
    return {{0, "done"},
            {1, command.failure.empty() ? "failed" : command.failure},
            {2, "wrong arguments"},
            {3, "a file could not be written"}};
}

std::vector<OptionText> all_options(const CommandText& command) {
    std::vector<OptionText> options(command.options.begin(), command.options.end());
    for (const OptionText& option : common_options())
        if (command.takes_project || option.name != "--project") options.push_back(option);
    return options;
}

std::string overview(const Commands& commands) {
    std::string text = "Kiai: sound for games and interactive apps.\n\nUsage: kiai [-C PROJECT] COMMAND [OPTIONS]\n";
    for (const Group group : {Group::project, Group::files, Group::runs, Group::shipping, Group::help}) {
        text += fmt::format("\n{}:\n", to_string(group));
        for (const CommandText& command : commands.all())
            if (command.group == group) text += row("  " + command.name, command.brief);
    }
    return text + "\n`kiai help COMMAND` explains a command, `kiai --version` prints the version.\n";
}

std::string help_page(const CommandText& command) {
    std::string text = command.brief + ".\n\nUsage: " + wrapped(usage_of(command), 9);
    if (command.takes_project || !command.operands.empty()) text += '\n';
    if (command.takes_project) text += row("  PROJECT", project_operand().text);
    for (const OperandText& operand : command.operands) {
        std::string name = operand.name;
        std::erase_if(name, [](char c) { return c == '[' || c == ']'; });
        text += row("  " + name, operand.choices.empty()
                                     ? operand.text
                                     : fmt::format("{} ({})", operand.text, fmt::join(operand.choices, ", ")));
    }
    text += "\nOptions:\n";
    for (const OptionText& option : all_options(command)) text += row(name_of(option), full_text(option));
    for (const std::string& note : command.notes) text += '\n' + wrapped(note, 0);
    text += "\nExit status:\n";
    for (const auto& [status, meaning] : statuses_of(command)) text += fmt::format("  {}  {}\n", status, meaning);
    text += command.examples.size() > 1 ? "\nExamples:\n" : "\nExample:\n";
    for (const std::string& example : command.examples) text += "  " + example + '\n';
    return text;
}

std::string version_text() {
#if defined(__clang__)
    const std::string compiler = fmt::format("Clang {}.{}.{}", __clang_major__, __clang_minor__, __clang_patchlevel__);
#elif defined(__GNUC__)
    const std::string compiler = fmt::format("GCC {}.{}.{}", __GNUC__, __GNUC_MINOR__, __GNUC_PATCHLEVEL__);
#else
    const std::string compiler = "an unknown compiler";
#endif
    return fmt::format("kiai {}\nbuilt with {}, {}\n", kiai::version, compiler, KIAI_BUILD_TYPE);
}

} // namespace kiai::tool
