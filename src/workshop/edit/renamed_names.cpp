#include "workshop/edit/renamed_names.h"

#include "workshop/disk/atomic_write.h"

#include <fmt/format.h>

#include <fstream>

namespace kiai::workshop {
namespace {

constexpr const char* file_name = ".kiai-renamed";

} // namespace

RenamedNames read_renamed(const std::filesystem::path& folder) {
    RenamedNames names;
    std::ifstream file(folder / file_name);
    for (std::string kind, name, now; file >> kind >> name >> now;) names[{kind, name}] = now;
    return names;
}

void remember_renamed(const std::filesystem::path& folder, const std::string& kind, const std::string& name,
                      const std::string& new_name) {
    const FileLock lock(folder / "kiai.toml");
    clear_leftovers(folder / file_name);
    RenamedNames names = read_renamed(folder);
    for (auto& [old, now] : names)
        if (old.first == kind && now == name) now = new_name;
    names[{kind, name}] = new_name;
    names.erase({kind, new_name});
    std::string text;
    for (const auto& [old, now] : names) text += fmt::format("{} {} {}\n", old.first, old.second, now);
    write_atomically(folder / file_name, text);
}

} // namespace kiai::workshop
