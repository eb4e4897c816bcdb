#include "documents.h"

namespace kiai::tool {

const std::vector<Document>& documents() {
    static const std::vector<Document> all{
        add_document,      check_document, codes_document,  convert_document, import_document,   markers_document,
        credits_document,  edit_document,  error_document,  even_document,    fire_document,     hear_document,
        list_document,     new_document,   pack_document,   show_document,    rehearse_document, trace_document,
        simulate_document, try_document,   report_document, why_document,     zones_document};
    return all;
}

Json schema_of(const Document& document) {
    const Json body = document.body();
    Json schema = Json::object(
        {{"$schema", "https://json-schema.org/draft/2020-12/schema"}, {"title", document.title}, {"type", "object"}});
    Json& properties = schema["properties"] = Json::object();
    properties[document.name] = Json::object(
        {{"type", "integer"}, {"const", document.version}, {"description", "The version of this document."}});
    for (const auto& [name, property] : body.find("properties")->members()) properties[name] = property;
    Json& required = schema["required"] = Json::array({Json(document.name)});
    for (const Json& name : body.find("required")->items()) required.push_back(name);
    schema["additionalProperties"] = false;
    return schema;
}

static bool printed = false;

bool document_was_printed() noexcept {
    return printed;
}

void describe_members(Shape<ErrorReport>& shape) {
    shape.has("status", "The exit status.", [](const ErrorReport& error) { return static_cast<int>(error.status); })
        .has("messages", "What was printed on standard error, a line each.",
             [](const ErrorReport& error) { return error.said.messages; })
        .has("findings", "The findings that were printed on standard error.",
             [](const ErrorReport& error) { return error.said.findings; });
}

const Document error_document{"error", "What a command with `--json` prints if it fails before its own document", 1,
                              [] { return shape_of<ErrorReport>().schema(); }};

std::string print_document(const Document& document, const Json& body) {
    printed = true;
    Json all = Json::object({{document.name, document.version}});
    for (const auto& [name, value] : body.members()) all[name] = value;
    return all.print();
}

} // namespace kiai::tool
