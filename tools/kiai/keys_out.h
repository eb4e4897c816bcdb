// The table of keys for editors and for people.
#pragma once

#include <kiai/keys.h>

#include <iosfwd>
#include <string>
#include <vector>

namespace kiai::tool {

using Keys = std::vector<Key>;
struct Document;

/// A JSON schema (draft 2020-12) of a file with these keys; the first of them stands at its top.
void write_schema(std::ostream& out, const Keys& keys, const std::string& title);
/// One table of keys per section, in Markdown.
void write_reference(std::ostream& out, const Keys& keys);
/// The members of a document as a table, in Markdown.
void write_reference(std::ostream& out, const Document& document);

/// The fields of the log: as a JSON schema of one line, and as a table.
void write_log_schema(std::ostream& out);
void write_log_reference(std::ostream& out);

} // namespace kiai::tool
