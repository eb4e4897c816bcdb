#include "core/model/numbered.h"
#include "runtime/project/read_folder.h"
#include "workshop/facts/facts_cache.h"

#include <kiai/workshop/names.h>

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cctype>
#include <set>
#include <string_view>

namespace kiai::inline v0 {
namespace {

struct KindNames {
    NameKind kind;
    const char* space;
    const char* type;
};
constexpr KindNames kinds[] = {
    {NameKind::sound, "sound", "SoundName"},    {NameKind::clip, "clip", "ClipName"},
    {NameKind::bus, "bus", "BusName"},          {NameKind::dial, "dial", "DialName"},
    {NameKind::scope, "scope", "ScopeName"},    {NameKind::zone, "zone", "ZoneName"},
    {NameKind::motion, "motion", "MotionName"}, {NameKind::sequence, "sequence", "SequenceName"},
    {NameKind::notice, "notice", "NoticeName"}, {NameKind::contact, "contact", "ContactName"},
    {NameKind::value, "value", "ValueName"},
};

/// The keywords of C++20, sorted, with the alternative tokens.
constexpr auto keywords = std::to_array<std::string_view>(
    {"alignas",     "alignof",  "and",        "and_eq",    "asm",       "auto",         "bitand",
     "bitor",       "bool",     "break",      "case",      "catch",     "char",         "char16_t",
     "char32_t",    "char8_t",  "class",      "co_await",  "co_return", "co_yield",     "compl",
     "concept",     "const",    "const_cast", "consteval", "constexpr", "constinit",    "continue",
     "decltype",    "default",  "delete",     "do",        "double",    "dynamic_cast", "else",
     "enum",        "explicit", "export",     "extern",    "false",     "float",        "for",
     "friend",      "goto",     "if",         "inline",    "int",       "long",         "mutable",
     "namespace",   "new",      "noexcept",   "not",       "not_eq",    "nullptr",      "operator",
     "or",          "or_eq",    "private",    "protected", "public",    "register",     "reinterpret_cast",
     "requires",    "return",   "short",      "signed",    "sizeof",    "static",       "static_assert",
     "static_cast", "struct",   "switch",     "template",  "this",      "thread_local", "throw",
     "true",        "try",      "typedef",    "typeid",    "typename",  "union",        "unsigned",
     "using",       "virtual",  "void",       "volatile",  "wchar_t",   "while",        "xor",
     "xor_eq"});

std::string identifier(const std::string& name, std::set<std::string>& taken) {
    std::string made;
    for (const char c : name) made += std::isalnum(static_cast<unsigned char>(c)) ? c : '_';
    // Names with two underscores, or with one before a capital letter, are reserved for the compiler.
    made.erase(std::unique(made.begin(), made.end(), [](char a, char b) { return a == '_' && b == '_'; }), made.end());
    while (made.starts_with('_')) made.erase(0, 1);
    if (made.empty() || std::isdigit(static_cast<unsigned char>(made.front()))) made = "n" + made;
    if (std::binary_search(keywords.begin(), keywords.end(), made)) made += '_';
    std::string free = made;
    for (int i = 2; !taken.insert(free).second; ++i)
        free = fmt::format("{}{}{}", made, made.ends_with('_') ? "" : "_", i);
    return free;
}

std::string quoted(const std::string& text) {
    std::string all = "\"";
    for (const char c : text) {
        if (c == '"' || c == '\\') all += '\\';
        all += c;
    }
    return all + '"';
}

} // namespace

NamesHeader names_header(const std::filesystem::path& folder, const std::string& space) {
    workshop::FactsCache cache(folder, false);
    const LoadResult read = runtime::read_folder(cache);
    NamesHeader header{{}, read.findings};
    if (!read.ok()) return header;
    const auto names = model::numbered_names(read.project.data());
    std::string& text = header.text;
    text = fmt::format("// Names of the project {}. Made by `kiai names`; changes are lost.\n#pragma once\n\n"
                       "#include <kiai/name.h>\n\nnamespace {} {{\n",
                       quoted(read.project.name()), space);
    for (const KindNames& kind : kinds) {
        std::set<std::string> taken;
        std::string constants;
        for (const model::NumberedName& name : names)
            if (name.kind == kind.kind)
                constants += fmt::format("inline constexpr kiai::{} {}{{{}, {}}};\n", kind.type,
                                         identifier(name.text, taken), quoted(name.text), name.number);
        if (!constants.empty()) text += fmt::format("\nnamespace {} {{\n{}}}\n", kind.space, constants);
    }
    text += fmt::format("\n}} // namespace {}\n", space);
    return header;
}

} // namespace kiai::inline v0
