// Prints aligned columns.
#pragma once

#include <string>
#include <vector>

namespace kiai::tool {

class Table {
  public:
    explicit Table(std::vector<std::string> heads) : rows_{std::move(heads)} {}
    void add(std::vector<std::string> cells) { rows_.push_back(std::move(cells)); }
    /// Prints to standard output: heads first, cells left-aligned, numbers right-aligned.
    void print() const;
    bool empty() const { return rows_.size() == 1; }

  private:
    std::vector<std::vector<std::string>> rows_;
};

} // namespace kiai::tool
