#include "table.h"

#include "command.h"

#include <algorithm>
#include <cctype>
#include <iostream>

namespace kiai::tool {
namespace {

/// Returns the columns on the screen: the bytes that start a character.
std::size_t width(const std::string& text) {
    return static_cast<std::size_t>(
        std::count_if(text.begin(), text.end(), [](char c) { return (static_cast<unsigned char>(c) & 0xc0) != 0x80; }));
}

bool is_number(const std::string& text) {
    return !text.empty() && std::all_of(text.begin(), text.end(), [](char c) {
        return std::isdigit(static_cast<unsigned char>(c)) || std::string(".+-").find(c) != std::string::npos;
    });
}

} // namespace

void Table::print() const {
    std::vector<std::size_t> widths(rows_.front().size());
    for (const auto& row : rows_)
        for (std::size_t c = 0; c < row.size(); ++c) widths[c] = std::max(widths[c], width(row[c]));
    for (std::size_t r = 0; r < rows_.size(); ++r) {
        std::string line;
        for (std::size_t c = 0; c < rows_[r].size(); ++c) {
            const std::string& cell = rows_[r][c];
            const bool right = is_number(r == 0 && rows_.size() > 1 ? rows_[1][c] : cell);
            const std::string padding(widths[c] - width(cell), ' ');
            line += (c > 0 ? "  " : "") + (right ? padding + cell : cell + padding);
        }
        line.erase(line.find_last_not_of(' ') + 1);
        std::cout << (r == 0 ? paint(line, 1) : line) << '\n';
    }
}

} // namespace kiai::tool
