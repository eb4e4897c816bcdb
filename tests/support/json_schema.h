// Compares a JSON value with a schema. Supports what the project's own schemas use.
#pragma once

#include <nlohmann/json.hpp>

#include <string>

namespace support {

/// Returns the first violation of `schema` in `value`, or an empty text.
std::string schema_fault(const nlohmann::json& value, const nlohmann::json& schema, const std::string& path);

} // namespace support
