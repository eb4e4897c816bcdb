#include "workshop/edit/editing.h"

#include "core/reader/project_reader.h"
#include "runtime/project/parse_toml.h"
#include "runtime/project/read_folder.h"
#include "workshop/disk/atomic_write.h"

#include <fmt/format.h>

namespace kiai::workshop {
namespace {

/// Returns the lines that an edit touches; empty if it only inserts lines.
Span lines_of(const std::string& text, const Document::Edit& edit) {
    const auto begin_of = [&](std::size_t at) {
        const std::size_t before = at == 0 ? std::string::npos : text.rfind('\n', at - 1);
        return before == std::string::npos ? 0 : before + 1;
    };
    const Span at = edit.at;
    if (at.from == at.to && (at.from == begin_of(at.from) || at.from == text.size())) return at;
    const bool whole = at.to > at.from && at.to == begin_of(at.to);
    const std::size_t end = whole ? at.to - 1 : text.find('\n', at.to);
    return {begin_of(at.from), end == std::string::npos ? text.size() : end + 1};
}

/// Returns the old and new lines, as one change for edits that touch the same lines.
std::vector<Change> changes_of(const Document& document) {
    const std::string& text = document.text();
    const std::vector<Document::Edit> edits = document.edits();
    std::vector<Change> changes;
    for (std::size_t i = 0; i < edits.size();) {
        Span lines = lines_of(text, edits[i]);
        Change change{document.line_of(lines.from), {}, {}};
        std::size_t done = lines.from;
        const auto touches = [&](const Span& other) {
            return other.from < lines.to ||
                   (lines.from == lines.to && other.from == other.to && other.from == lines.from);
        };
        for (; i < edits.size() && touches(lines_of(text, edits[i])); ++i) {
            lines.to = std::max(lines.to, lines_of(text, edits[i]).to);
            change.after += text.substr(done, edits[i].at.from - done) + edits[i].text;
            done = edits[i].at.to;
        }
        change.before = text.substr(lines.from, lines.to - lines.from);
        change.after += text.substr(done, lines.to - done);
        for (std::string* side : {&change.before, &change.after})
            while (!side->empty() && (side->back() == '\n' || side->back() == '\r')) side->pop_back();
        while (change.before.empty() && change.after.starts_with('\n')) change.after.erase(0, 1);
        changes.push_back(std::move(change));
    }
    return changes;
}

} // namespace

void refuse(EditResult& edited, const std::filesystem::path& folder, FindingCode code, model::Source source,
            std::string message, std::string fix) {
    reader::Findings findings((folder / "kiai.toml").string());
    findings.add(code, Severity::error, source, std::move(message), std::move(fix));
    edited.findings.push_back(findings.take().front());
}

LoadResult read_entries(const std::filesystem::path& folder, const reader::Value& root) {
    runtime::NamedFiles files(folder, {});
    const reader::ReadOptions options;
    return reader::read_project({(folder / "kiai.toml").string(), files, options}, root);
}

static EditResult edit(const std::filesystem::path& folder, const std::function<void(Document&, EditResult&)>& change,
                       bool writes) {
    EditResult edited;
    const std::filesystem::path path = folder / "kiai.toml";
    const FileLock lock(path);
    if (writes) clear_leftovers(path);
    runtime::ProjectText read = runtime::read_text(folder);
    edited.findings = std::move(read.findings);
    if (!edited.ok()) return edited;
    auto document = Document::read(read.text);
    if (const auto* syntax = std::get_if<runtime::SyntaxError>(&document)) {
        refuse(edited, folder, FindingCode::toml_syntax, syntax->source, syntax->message,
               runtime::toml_fix(read.text, *syntax));
        return edited;
    }
    Document& toml = std::get<Document>(document);
    change(toml, edited);
    if (!edited.ok() || toml.edits().empty()) return edited;
    const auto result = toml.finish();
    if (const int* line = std::get_if<int>(&result)) {
        refuse(edited, folder, FindingCode::not_editable, {*line, 0},
               "this line is written in a form that Kiai cannot edit", "edit the line by hand");
        return edited;
    }
    const std::string error = writes ? write_atomically(path, std::get<std::string>(result)) : std::string();
    if (!error.empty()) {
        refuse(edited, folder, FindingCode::not_written, {}, fmt::format("cannot write kiai.toml ({})", error),
               "check the disk and the permissions; nothing was changed");
        return edited;
    }
    edited.changes = changes_of(toml);
    return edited;
}

EditResult edit_project(const std::filesystem::path& folder,
                        const std::function<void(Document&, EditResult&)>& change) {
    return edit(folder, change, true);
}

EditResult try_edit(const std::filesystem::path& folder, const std::function<void(Document&, EditResult&)>& change) {
    return edit(folder, change, false);
}

} // namespace kiai::workshop
