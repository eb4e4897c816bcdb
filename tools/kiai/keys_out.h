// The table of keys for editors and for people.
#pragma once

#include <iosfwd>

namespace kiai::tool {

/// A JSON schema (draft 2020-12) for kiai.toml.
void write_schema(std::ostream& out);
/// One table of keys per section, in Markdown.
void write_reference(std::ostream& out);

} // namespace kiai::tool
