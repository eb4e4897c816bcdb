// Reads [credit], the authors of the clips in a folder, and the accepted findings.
#include "core/model/fill.h"
#include "core/model/near.h"
#include "core/model/sort_records.h"
#include "core/reader/project_reader.h"
#include "core/reader/renamed.h"

#include <algorithm>

namespace kiai::reader {
namespace {

/// Splits a path, without empty parts and `.`.
std::vector<std::string> parts_of(std::string_view path) {
    std::vector<std::string> parts;
    while (!path.empty()) {
        const std::string_view part = path.substr(0, path.find('/'));
        path.remove_prefix(std::min(path.size(), part.size() + 1));
        if (part.empty() || part == ".") continue;
        if (part == ".." && !parts.empty() && parts.back() != "..")
            parts.pop_back();
        else
            parts.emplace_back(part);
    }
    return parts;
}

/// Returns true if `file` is in `folder` or below it.
bool lies_in(const std::vector<std::string>& file, const std::vector<std::string>& folder) {
    return file.size() >= folder.size() && std::equal(folder.begin(), folder.end(), file.begin());
}

struct FolderCredit {
    std::vector<std::string> folder;
    model::Credit credit;
    bool used = false;
};

void complete(std::string& own, const std::string& of_folder) {
    if (own.empty()) own = of_folder;
}

/// Returns the names of all finding codes.
std::vector<std::string> known_codes() {
    std::vector<std::string> names;
    for (const FindingCode code : all_finding_codes()) names.emplace_back(to_string(code));
    return names;
}

} // namespace

model::Credit read_credit(Entry& entry) {
    return {entry.text("author").value_or(""), entry.text("licence").value_or(""), entry.text("source").value_or(""),
            entry.text("note").value_or("")};
}

void read_credits(Draft& draft, const Value& section) {
    std::vector<FolderCredit> folders;
    for (const Member& member : section.members) {
        if (!is_table(draft, member, "credit")) continue;
        Entry entry(draft.findings, member.value, {"credit"}, model::fill("credit \"{}\"", member.key), member.key);
        FolderCredit folder{parts_of(member.key), read_credit(entry)};
        entry.finish();
        const bool used = std::any_of(draft.project.clips.begin(), draft.project.clips.end(),
                                      [&](const auto& clip) { return lies_in(parts_of(clip.file), folder.folder); });
        if (!used)
            entry.doubt(FindingCode::unknown_folder, Severity::warning, member.source, "this folder has no clips",
                        "write a folder as in the paths of clips");
        if (entry.ok()) folders.push_back(std::move(folder));
    }
    // The deepest folder first, because the nearest credit counts.
    model::sort_records(folders,
                        [](const FolderCredit& a, const FolderCredit& b) { return a.folder.size() > b.folder.size(); });
    for (model::Clip& clip : draft.project.clips) {
        for (const FolderCredit& of : folders) {
            if (!lies_in(parts_of(clip.file), of.folder)) continue;
            complete(clip.credit.author, of.credit.author);
            complete(clip.credit.licence, of.credit.licence);
            complete(clip.credit.origin, of.credit.origin);
            complete(clip.credit.note, of.credit.note);
        }
    }
}

void read_accepted(Draft& draft, const Value& list) {
    for (std::size_t i = 0; i < list.items.size(); ++i) {
        const Value& item = list.items[i];
        const std::string what = model::fill("accepted {}", i + 1);
        if (item.kind != Value::Kind::table) {
            draft.findings.add(FindingCode::wrong_type, Severity::error, item.source, what + " is not a table",
                               "write [[accepted]] with its keys below");
            continue;
        }
        Entry entry(draft.findings, item, {"accepted"}, what);
        model::Acceptance acceptance;
        acceptance.source = item.source;
        const std::vector<std::string> codes = known_codes();
        if (const auto code = entry.text("finding")) {
            acceptance.code = *code;
            if (std::find(codes.begin(), codes.end(), *code) == codes.end()) {
                const std::string now = renamed_code(*code), near = model::nearest(*code, codes);
                entry.fail(FindingCode::bad_value, item.find("finding")->source,
                           model::fill("no finding is called \"{}\"", *code),
                           !now.empty()   ? model::fill("it is now called \"{}\"", now)
                           : near.empty() ? "write the name that `kiai check` prints in brackets"
                                          : model::fill("did you mean \"{}\"?", near),
                           now);
            }
        } else if (entry.ok()) {
            entry.fail(FindingCode::missing_key, item.source, "missing key `finding`",
                       "write finding = \"unused-clip\", with the name that `kiai check` prints in brackets");
        }
        acceptance.on = entry.text("on").value_or("");
        acceptance.reason = entry.text("reason").value_or("");
        if (entry.ok() && acceptance.reason.empty())
            entry.fail(FindingCode::missing_key, item.source, "missing key `reason`", "write reason = \"…\"");
        entry.finish();
        if (entry.ok()) draft.project.accepted.push_back(std::move(acceptance));
    }
}

void accept(std::vector<Finding>& findings, const std::vector<model::Acceptance>& accepted) {
    for (Finding& finding : findings) {
        if (finding.severity == Severity::error) continue; // what is left out of the project cannot be accepted
        for (const model::Acceptance& acceptance : accepted)
            if (acceptance.code == to_string(finding.code) && (acceptance.on.empty() || acceptance.on == finding.entry))
                finding.accepted = acceptance.reason;
    }
}

} // namespace kiai::reader
