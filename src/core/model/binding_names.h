// Identifies a binding, which has no name, independently of other bindings.
#pragma once

#include "core/model/chance.h"
#include "core/model/project.h"

#include <map>
#include <string>
#include <vector>

namespace kiai::model {

/// Returns a name for each binding: its trigger, and an index among bindings with the same trigger. [control]
inline std::vector<std::uint64_t> names_of(const std::vector<model::Binding>& bindings) {
    std::vector<std::uint64_t> names;
    std::map<std::string, int> alike;
    for (const model::Binding& binding : bindings) {
        const std::string name = std::string(to_string(binding.trigger)) + ' ' + binding.name + ' ' + binding.other;
        names.push_back(hash(name + ' ' + std::to_string(alike[name]++)));
    }
    return names;
}

} // namespace kiai::model
