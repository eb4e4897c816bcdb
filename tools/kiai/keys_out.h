// The tables of keys and fields, for editors and for people.
#pragma once

#include <kiai/keys.h>

#include <iosfwd>
#include <string>
#include <vector>

namespace kiai::tool {

using Keys = std::vector<Key>;
struct Document;

/// Writes a JSON schema (draft 2020-12) of a file with these keys; the first key is at its top level.
void write_schema(std::ostream& out, const Keys& keys, const std::string& title);
/// Writes a table of keys for each section, in Markdown.
void write_reference(std::ostream& out, const Keys& keys);
/// Writes the members of a document as a table, in Markdown.
void write_reference(std::ostream& out, const Document& document);

/// Write a JSON schema of a line of the log; its decisions and fields as tables, in Markdown.
void write_log_schema(std::ostream& out);
void write_log_reference(std::ostream& out);

} // namespace kiai::tool
