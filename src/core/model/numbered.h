// The order in which the names of a project get their numbers.
#pragma once

#include "core/model/project.h"

#include <kiai/name.h>

#include <string>
#include <vector>

namespace kiai::model {

struct NumberedName {
    NameKind kind;
    std::string text;
    std::uint32_t number; ///< the NameId that it has in an engine which begins with this project
};

/// Returns each name once per kind, in the order of the kinds. A text with several kinds has one number.
std::vector<NumberedName> numbered_names(const Project& project);

} // namespace kiai::model
