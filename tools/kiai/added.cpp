#include "added.h"

#include <fmt/format.h>

#include <iostream>

namespace kiai::tool {
namespace {

using Outcome = AddedFile::Outcome;

int colour_of(Outcome outcome) {
    return outcome == Outcome::added ? 32 : outcome == Outcome::known ? 36 : 31;
}

/// Escapes what would break a line, above all line breaks.
std::string on_one_line(const std::string& text) {
    std::string out;
    for (const char c : text)
        out += static_cast<unsigned char>(c) < 0x20 ? fmt::format("\\x{:02x}", static_cast<int>(c)) : std::string(1, c);
    return out;
}

} // namespace

const char* word_of(Outcome outcome) {
    return outcome == Outcome::added ? "added" : outcome == Outcome::known ? "known" : "refused";
}

void print_added(const AddedFile& file) {
    const std::string path = on_one_line(file.file.string());
    std::string line = paint(fmt::format("{:8}", word_of(file.outcome)), colour_of(file.outcome));
    if (file.outcome == Outcome::added)
        line += fmt::format("{} = \"{}\", {:.2f} s{}{}", file.name, file.path, file.seconds,
                            file.why.empty() ? "" : "; it ", file.why);
    else
        line += fmt::format("{}: {}{}{}", path, file.why, file.fix.empty() ? "" : "; ", file.fix);
    std::cout << line << '\n';
}

} // namespace kiai::tool
