// The commonest ways of breaking TOML, recognised by the line that the parser stumbled over.
#include "files/tree.h"

#include <algorithm>
#include <cctype>
#include <regex>

namespace kiai::files {
namespace {

std::string line_of(std::string_view document, int number) {
    for (int line = 1; line < number; ++line) {
        const std::size_t end = document.find('\n');
        if (end == std::string_view::npos) return {};
        document.remove_prefix(end + 1);
    }
    return std::string(document.substr(0, document.find('\n')));
}

bool has(const std::string& text, const char* pattern) {
    return std::regex_search(text, std::regex(pattern));
}

/// How many more of `open` than of `close` there are outside of texts and comments.
int unclosed(const std::string& line, char open, char close) {
    int depth = 0;
    bool quoted = false;
    for (const char c : line) {
        if (c == '"') quoted = !quoted;
        if (quoted) continue;
        if (c == '#') break;
        depth += c == open ? 1 : c == close ? -1 : 0;
    }
    return depth;
}

bool odd_quotes(const std::string& line) {
    return std::count(line.begin(), line.end(), '"') % 2 == 1;
}

} // namespace

std::string toml_mend(std::string_view document, const SyntaxError& error) {
    const std::string& said = error.sentence;
    const std::string line = line_of(document, error.source.line);
    const std::string before = line_of(document, error.source.line - 1);
    const std::string value =
        line.substr(std::min(line.size(), line.find('=') == std::string::npos ? 0 : line.find('=') + 1));

    if (said.find("redefine") != std::string::npos || said.find("already") != std::string::npos)
        return "the same name stands further up: join the two, or give this one another name";
    if (has(line, "\xe2\x80[\x9c\x9d\x9e\x98\x99]")) return "use straight quotes \" instead of typographic ones";
    if (has(line, R"(^\s*//|\s//\s)")) return "write comments with #";
    if (has(line, R"("[^"]*\\[^"\\bfnrtuU])"))
        return "write paths with / between folders: a \\ begins an escape in a text";
    if (odd_quotes(line)) return "close the text with a second \" on the same line";
    if (has(line, R"(^\s*[A-Za-z0-9_-]+\s*:)")) return "write = between a key and its value, not :";
    if (has(line, R"(^\s*\[)") && line.find('=') == std::string::npos && unclosed(line, '[', ']') > 0)
        return line.find("[[") != std::string::npos ? "close the heading with ]]" : "close the heading with ]";
    if (unclosed(line, '{', '}') > 0)
        return "close the { with a } on the same line: an inline table must not break over lines";
    if (unclosed(line, '[', ']') < 0) return "there is a ] too many, or its [ is missing";
    if (has(value, R"(^\s*(True|False|TRUE|FALSE|yes|no|on|off)\b)"))
        return "write true or false, in small letters and without quotes";
    if (has(value, R"(^\s*[-+]?\d+,\d)")) return "write decimals with a point: 1.5";
    if (has(value, R"(\d\s*(dB|st|ms|s|%)\b)"))
        return "a number with its unit is a text: put it in quotes, or leave the unit out";
    if (has(value, R"("\s+"|\d\s+\d|"\s+\d|\}\s*\{)")) return "put a comma between the items";
    if (has(value, R"(,\s*\})")) return "take out the last comma: an inline table must not end with one";
    if (has(value, R"(^\s*$)")) return "write a value after the =";
    if (has(value, R"(^\s*[A-Za-z])") && line.find('=') != std::string::npos) return "put the text in quotes: \"…\"";
    if (unclosed(line, '[', ']') > 0 || unclosed(before, '[', ']') > 0 || said.find("array") != std::string::npos)
        return "close the list with a ], and put a comma between its items";
    if (line.find('=') == std::string::npos) return "write each setting as: key = value";
    return "see the line before, too: something may be left open there";
}

} // namespace kiai::files
