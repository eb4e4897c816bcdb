// The JSON documents that commands print with --json: their names, versions and schemas.
#pragma once

#include "command.h"
#include "shape.h"

#include <string>
#include <vector>

namespace kiai::tool {

/// A kind of document. Its first member is its name, with its version as the value: `"check": 1`. A change that a
/// program can notice, other than a new member, makes the version one higher.
struct Document {
    const char* name;
    const char* title; ///< of the schema: what the document holds
    int version;
    Json (*body)(); ///< the schema of its other members
};

extern const Document add_document, check_document, codes_document, convert_document, import_document, markers_document,
    credits_document, edit_document, error_document, even_document, fire_document, hear_document, list_document,
    new_document, pack_document, rehearse_document, report_document, show_document, simulate_document, trace_document,
    try_document, why_document, zones_document;

/// Returns all documents by name.
const std::vector<Document>& documents();

/// Returns a JSON schema (draft 2020-12) of the document.
Json schema_of(const Document& document);

/// Returns `body`, whose shape is the document's, with the document's name before it, as text.
std::string print_document(const Document& document, const Json& body);

/// Returns true if a document was printed; a command prints at most one.
bool document_was_printed() noexcept;

/// What a command with --json prints if it fails before its document.
struct ErrorReport {
    Status status = failed;
    Said said;
};

void describe_members(Shape<Finding>& shape);
void describe_members(Shape<ErrorReport>& shape);

template<class T>
std::string print_document(const Document& document, const T& value) {
    return print_document(document, shape_of<T>().json(value));
}

} // namespace kiai::tool
