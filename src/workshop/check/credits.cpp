#include "core/reader/project_reader.h"
#include "runtime/project/read_folder.h"
#include "workshop/facts/facts_cache.h"

#include <kiai/workshop/credits.h>

#include <fmt/format.h>

#include <algorithm>
#include <map>

namespace kiai::inline v0 {
namespace {

void add_once(std::vector<std::string>& list, const std::string& text) {
    if (!text.empty() && std::find(list.begin(), list.end(), text) == list.end()) list.push_back(text);
}

std::string heading_of(const CreditGroup& group) {
    const std::string author = group.author.empty() ? "author not recorded" : group.author;
    return fmt::format("{} ({})", author, group.licence.empty() ? "licence not recorded" : group.licence);
}

/// Escapes a text for Markdown.
std::string escaped(const std::string& text) {
    std::string out;
    for (const char c : text) {
        if (std::string("\\`*_[]<>#").find(c) != std::string::npos) out += '\\';
        out += c;
    }
    return out;
}

std::string title(const Credits& credits) {
    return credits.project.empty() ? "Sound credits" : "Sound credits of " + credits.project;
}

} // namespace

Credits gather_credits(const std::filesystem::path& folder) {
    workshop::FactsCache cache(folder, false);
    LoadResult read = runtime::read_folder(cache);
    Credits credits;
    credits.project = read.project.name();
    std::map<std::pair<std::string, std::string>, CreditGroup> groups;
    for (const model::Clip& clip : read.project.data().clips) {
        if (clip.credit.author.empty() && clip.credit.licence.empty()) {
            credits.unrecorded.push_back(clip.name);
            continue;
        }
        CreditGroup& group = groups[{clip.credit.author, clip.credit.licence}];
        group.author = clip.credit.author;
        group.licence = clip.credit.licence;
        add_once(group.sources, clip.credit.origin);
        add_once(group.notes, clip.credit.note);
        group.clips.push_back(clip.name);
    }
    for (auto& [key, group] : groups) credits.groups.push_back(std::move(group));
    credits.findings = std::move(read.findings);
    return credits;
}

std::string credits_as_text(const Credits& credits) {
    std::string out = title(credits) + "\n";
    for (const CreditGroup& group : credits.groups) {
        out += fmt::format("\n{}\n", heading_of(group));
        for (const std::string& source : group.sources) out += fmt::format("  from {}\n", source);
        for (const std::string& note : group.notes) out += fmt::format("  {}\n", note);
        out += fmt::format("  {}\n", fmt::join(group.clips, ", "));
    }
    if (!credits.unrecorded.empty()) out += fmt::format("\nNo record\n  {}\n", fmt::join(credits.unrecorded, ", "));
    return out;
}

std::string credits_as_markdown(const Credits& credits) {
    std::string out = fmt::format("# {}\n", escaped(title(credits)));
    for (const CreditGroup& group : credits.groups) {
        out += fmt::format("\n## {}\n\n", escaped(heading_of(group)));
        for (const std::string& source : group.sources) out += fmt::format("From {}\n\n", escaped(source));
        for (const std::string& note : group.notes) out += fmt::format("{}\n\n", escaped(note));
        for (const std::string& clip : group.clips) out += fmt::format("- `{}`\n", clip);
    }
    if (!credits.unrecorded.empty()) {
        out += "\n## No record\n\n";
        for (const std::string& clip : credits.unrecorded) out += fmt::format("- `{}`\n", clip);
    }
    return out;
}

} // namespace kiai::inline v0
