// Makes manual pages in the language of man(7).
#include "help.h"

#include <kiai/version.h>

#include <fmt/format.h>

#include <algorithm>

namespace kiai::tool {
namespace {

/// Escapes text for troff.
std::string plain(const std::string& text) {
    std::string out;
    for (const char c : text) {
        if (c == '\\' || c == '-') out += '\\';
        if ((c == '.' || c == '\'') && out.empty()) out += "\\&";
        out += c == '\\' ? 'e' : c;
    }
    return out;
}

std::string head(const std::string& title, const std::string& name, const std::string& brief) {
    return fmt::format(".TH {} 1 \"\" \"Kiai {}\" \"Kiai\"\n.SH NAME\n{} \\- {}\n", title, kiai::version, plain(name),
                       plain(brief));
}

std::string entry(const std::string& name, const std::string& text) {
    return fmt::format(".TP\n\\fB{}\\fR\n{}\n", plain(name), plain(text));
}

std::string upper(std::string text) {
    std::transform(text.begin(), text.end(), text.begin(),
                   [](char c) { return c >= 'a' && c <= 'z' ? char(c - 32) : c; });
    return text;
}

} // namespace

std::string manual_page(const CommandText& command) {
    std::string text = head("KIAI\\-" + upper(command.name), "kiai-" + command.name, command.brief);
    text += fmt::format(".SH SYNOPSIS\n\\fB{}\\fR\n", plain(usage_of(command)));
    if (!command.notes.empty()) {
        text += ".SH DESCRIPTION\n";
        for (const std::string& note : command.notes) text += ".PP\n" + plain(note) + '\n';
    }
    if (command.takes_project || !command.operands.empty()) {
        text += ".SH OPERANDS\n";
        if (command.takes_project) text += entry("[PROJECT]", project_operand().text);
        for (const OperandText& operand : command.operands)
            text += entry(operand.name, operand.choices.empty()
                                            ? operand.text
                                            : fmt::format("{} ({})", operand.text, fmt::join(operand.choices, ", ")));
    }
    text += ".SH OPTIONS\n";
    for (const OptionText& option : all_options(command))
        text += entry(fmt::format("{}{}{}", option.letter.empty() ? "" : option.letter + ", ", option.name,
                                  option.placeholder.empty() ? "" : ' ' + option.placeholder),
                      full_text(option));
    text += ".SH EXIT STATUS\n";
    for (const auto& [status, meaning] : statuses_of(command)) text += entry(std::to_string(status), meaning);
    text += ".SH EXAMPLES\n.nf\n";
    for (const std::string& example : command.examples) text += plain(example) + '\n';
    return text + ".fi\n.SH SEE ALSO\n.BR kiai (1)\n";
}

std::string manual_page(const Commands& commands) {
    std::string text = head("KIAI", "kiai", "sound for games and interactive apps");
    text += ".SH SYNOPSIS\n\\fBkiai [\\-C PROJECT] COMMAND [OPTIONS]\\fR\n.SH COMMANDS\n";
    for (const CommandText& command : commands.all())
        text += fmt::format(".TP\n.BR kiai\\-{} (1)\n{}\n", plain(command.name), plain(command.brief));
    text += ".SH ENVIRONMENT\n";
    return text + entry("NO_COLOR", "If set, no command prints colours.");
}

} // namespace kiai::tool
