// Which bindings a trigger has: a look-up whose cost does not grow with their number.
#pragma once

#include "engine/names.h"
#include "model/project.h"

#include <algorithm>
#include <cstdint>
#include <unordered_map>
#include <vector>

namespace kiai::triggers {

class Bindings {
  public:
    /// [control]
    Bindings(const std::vector<model::Binding>& bindings, engine::NameTable& names) {
        for (std::size_t i = 0; i < bindings.size(); ++i) {
            const model::Binding& binding = bindings[i];
            const engine::NameId other = binding.other.empty() ? engine::no_name : names.add(binding.other);
            by_key_[key(binding.trigger, names.add(binding.name), other)].push_back(static_cast<int>(i));
        }
    }
    /// Indices of the bindings, in the order of kiai.toml; null where there is none. The kinds of a contact may come in
    /// either order. [rt]
    const std::vector<int>* find(ReportKind kind, engine::NameId name,
                                 engine::NameId other = engine::no_name) const noexcept {
        const auto found = by_key_.find(key(kind, name, other));
        return found == by_key_.end() ? nullptr : &found->second;
    }

  private:
    static std::uint64_t key(ReportKind kind, engine::NameId name, engine::NameId other) noexcept {
        static_assert(engine::NameTable::capacity <= 1u << 28);
        if ((kind == ReportKind::contact || kind == ReportKind::apart) && name > other) std::swap(name, other);
        return static_cast<std::uint64_t>(kind) << 56 | static_cast<std::uint64_t>(name) << 28 | other;
    }
    std::unordered_map<std::uint64_t, std::vector<int>> by_key_;
};

} // namespace kiai::triggers
