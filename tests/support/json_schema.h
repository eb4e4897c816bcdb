// Whether a JSON value is as a schema says. Knows what the project's own schemas use.
#pragma once

#include <nlohmann/json.hpp>

#include <string>

namespace support {

/// The first thing in `value` that is not as `schema` says; empty: nothing.
std::string schema_fault(const nlohmann::json& value, const nlohmann::json& schema, const std::string& path);

} // namespace support
