#include "documents.h"

namespace kiai::tool {

const std::vector<Document>& documents() {
    static const std::vector<Document> all{
        add_document,      check_document, codes_document,    credits_document, edit_document, even_document,
        fire_document,     hear_document,  list_document,     new_document,     pack_document, show_document,
        rehearse_document, trace_document, simulate_document, why_document,     zones_document};
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

std::string print_document(const Document& document, const Json& body) {
    Json all = Json::object({{document.name, document.version}});
    for (const auto& [name, value] : body.members()) all[name] = value;
    return all.print();
}

} // namespace kiai::tool
