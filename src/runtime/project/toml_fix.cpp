// Recognises the most common TOML mistakes by the line at which the parser stopped.
#include "core/reader/scan.h"
#include "runtime/project/parse_toml.h"

#include <algorithm>
#include <cctype>
#include <iterator>
#include <span>
#include <vector>

namespace kiai::runtime {
namespace {

/// Returns the lines up to and including a line.
std::vector<std::string_view> lines_to(std::string_view document, int number) {
    std::vector<std::string_view> lines;
    while (static_cast<int>(lines.size()) < number) {
        const std::size_t end = document.find('\n');
        lines.push_back(document.substr(0, end));
        document.remove_prefix(end == std::string_view::npos ? document.size() : end + 1);
    }
    return lines;
}

/// Returns true if `test` is true anywhere in the text; it gets the rest of the text.
template<class Test>
bool anywhere(std::string_view text, const Test& test) {
    for (std::size_t at = 0; at < text.size(); ++at)
        if (test(at, reader::Scan(text.substr(at)))) return true;
    return false;
}

bool typographic_quotes(const std::string& line) {
    return anywhere(line, [](std::size_t, reader::Scan scan) {
        return scan.take("\xe2\x80\x9c") || scan.take("\xe2\x80\x9d") || scan.take("\xe2\x80\x9e") ||
               scan.take("\xe2\x80\x98") || scan.take("\xe2\x80\x99");
    });
}

bool slash_comment(const std::string& line) {
    reader::Scan first(line);
    first.blanks();
    return first.take("//") || anywhere(line, [](std::size_t, reader::Scan scan) {
               return scan.blanks() > 0 && scan.take("//") && scan.blanks() > 0;
           });
}

/// Finds a \ that starts no valid escape.
bool bad_escape(const std::string& line) {
    bool quoted = false;
    for (std::size_t i = 0; i < line.size(); ++i) {
        if (line[i] == '"') quoted = !quoted;
        if (!quoted || line[i] != '\\' || i + 1 == line.size()) continue;
        if (std::string_view("\"\\bfnrtuU").find(line[++i]) == std::string_view::npos) return true;
    }
    return false;
}

bool colon_for_equals(const std::string& line) {
    reader::Scan scan(line);
    scan.blanks();
    if (scan.while_([](char c) { return reader::is_letter(c) || reader::is_name(c); }).empty()) return false;
    scan.blanks();
    return scan.take(":");
}

bool heading(const std::string& line) {
    reader::Scan scan(line);
    scan.blanks();
    return scan.take("[");
}

bool misspelt_truth(const std::string& value) {
    reader::Scan scan(value);
    scan.blanks();
    const std::string_view word = scan.while_([](char c) { return reader::is_letter(c) || reader::is_name(c); });
    constexpr std::string_view words[] = {"True", "False", "TRUE", "FALSE", "yes", "no", "on", "off"};
    return std::find(std::begin(words), std::end(words), word) != std::end(words);
}

bool comma_for_point(const std::string& value) {
    reader::Scan scan(value);
    scan.blanks();
    if (scan.peek() == '-' || scan.peek() == '+') scan.skip();
    return !scan.while_(reader::is_digit).empty() && scan.take(",") && reader::is_digit(scan.peek());
}

bool bare_unit(const std::string& value) {
    return anywhere(value, [](std::size_t, reader::Scan scan) {
        if (scan.while_(reader::is_digit).empty()) return false;
        scan.blanks();
        if (scan.take("%")) return true;
        const std::string_view unit = scan.while_([](char c) { return reader::is_letter(c) || reader::is_digit(c); });
        return unit == "dB" || unit == "st" || unit == "ms" || unit == "s";
    });
}

bool comma_missing(const std::string& value) {
    return anywhere(value, [](std::size_t, reader::Scan scan) {
        const bool quote = scan.peek() == '"', digit = reader::is_digit(scan.peek()), brace = scan.peek() == '}';
        scan.skip();
        const bool apart = scan.blanks() > 0;
        return (quote && apart && (scan.peek() == '"' || reader::is_digit(scan.peek()))) ||
               (digit && apart && reader::is_digit(scan.peek())) || (brace && scan.peek() == '{');
    });
}

bool last_comma(const std::string& value) {
    return anywhere(value, [](std::size_t, reader::Scan scan) {
        if (!scan.take(",")) return false;
        scan.blanks();
        return scan.peek() == '}';
    });
}

char first_of(const std::string& value) {
    reader::Scan scan(value);
    scan.blanks();
    return scan.peek();
}

/// Returns how many more of `open` than of `close` there are outside of texts and comments.
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

/// Returns what a line defines: a heading, or the key before its `=`; empty for neither.
std::string_view defined_by(std::string_view line) {
    while (!line.empty() && (line.front() == ' ' || line.front() == '\t')) line.remove_prefix(1);
    if (line.starts_with("#")) return {};
    const std::size_t end = line.starts_with("[") ? line.rfind(']') : line.find('=');
    if (end == std::string_view::npos) return {};
    line = line.substr(0, line.starts_with("[") ? end + 1 : end);
    while (!line.empty() && (line.back() == ' ' || line.back() == '\t')) line.remove_suffix(1);
    return line;
}

/// Returns true if the last line repeats a heading, or a key below the same heading.
bool named_before(const std::vector<std::string_view>& lines) {
    const std::string_view name = defined_by(lines.back());
    if (name.empty() || name.starts_with("[[")) return false;
    const bool is_heading = name.starts_with("[");
    bool found = false;
    for (const std::string_view line : std::span(lines).first(lines.size() - 1)) {
        const std::string_view earlier = defined_by(line);
        if (!is_heading && earlier.starts_with("[")) found = false; // its keys are others
        found = found || earlier == name;
    }
    return found;
}

/// Returns how many lists are open at the end of the last line, from the line with the `=` on.
int open_lists(const std::vector<std::string_view>& lines) {
    int open = 0;
    for (auto line = lines.rbegin(); line != lines.rend(); ++line) {
        open += unclosed(std::string(*line), '[', ']');
        if (line->find('=') != std::string_view::npos && line != lines.rbegin()) break;
    }
    return open;
}

bool odd_quotes(const std::string& line) {
    return std::count(line.begin(), line.end(), '"') % 2 == 1;
}

} // namespace

std::string toml_fix(std::string_view document, const SyntaxError& error) {
    const std::vector<std::string_view> lines = lines_to(document, std::max(1, error.source.line));
    const std::string line(lines.back());
    const std::string value =
        line.substr(std::min(line.size(), line.find('=') == std::string::npos ? 0 : line.find('=') + 1));

    if (error.kind == SyntaxError::Kind::too_many_parts) return "write the name with fewer points";
    if (error.kind == SyntaxError::Kind::too_deep) return "close the lists and tables above";
    if (named_before(lines)) return "the same name is used above: merge both, or rename one";
    if (typographic_quotes(line)) return "use straight quotes \" instead of typographic ones";
    if (slash_comment(line)) return "write comments with #";
    if (bad_escape(line)) return "write paths with / between folders: a \\ begins an escape in a text";
    if (odd_quotes(line)) return "close the text with a second \" on the same line";
    if (colon_for_equals(line)) return "write = between a key and its value, not :";
    if (heading(line) && line.find('=') == std::string::npos && unclosed(line, '[', ']') > 0)
        return line.find("[[") != std::string::npos ? "close the heading with ]]" : "close the heading with ]";
    if (unclosed(line, '{', '}') > 0)
        return "close the { with a } on the same line: an inline table must be on one line";
    if (unclosed(line, '[', ']') < 0) return "there is a ] too many, or its [ is missing";
    if (misspelt_truth(value)) return "write true or false, in small letters and without quotes";
    if (comma_for_point(value)) return "write decimals with a point: 1.5";
    if (bare_unit(value)) return "a number with its unit is a text: put it in quotes, or leave the unit out";
    if (comma_missing(value)) return "put a comma between the items";
    if (last_comma(value)) return "remove the last comma: an inline table must not end with one";
    if (first_of(value) == '\0') return "write a value after the =";
    if (reader::is_letter(first_of(value)) && line.find('=') != std::string::npos)
        return "write the text in quotes: \"…\"";
    if (open_lists(lines) > 0) return "close the list with a ], and put a comma between its items";
    if (line.find('=') == std::string::npos) return "write each setting as: key = value";
    return "check the line before too: a quote or bracket may be open";
}

} // namespace kiai::runtime
