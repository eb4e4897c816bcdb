#include "runtime/project/read_folder.h"

#include "core/model/fill.h"
#include "core/reader/project_reader.h"
#include "runtime/project/parse_toml.h"
#include "runtime/project/wanted_clips.h"

#include <fstream>
#include <istream>

namespace kiai::runtime {

namespace fs = std::filesystem;

namespace {

constexpr std::uintmax_t most_bytes = 16u << 20;

} // namespace

ProjectText read_text(const fs::path& folder) {
    return read_text(folder, FileAccess(folder, {}));
}

ProjectText read_text(const fs::path& folder, const FileAccess& access) {
    const fs::path path = folder / "kiai.toml";
    const auto fail = [&](FindingCode code, model::Source source, std::string message, std::string fix) {
        reader::Findings findings(path.string());
        findings.add(code, Severity::error, source, std::move(message), std::move(fix));
        return ProjectText{{}, findings.take()};
    };
    std::error_code error;
    if (!access.exists("kiai.toml"))
        return fail(FindingCode::no_project, {},
                    access.own()                      ? std::string("the app's reader has no kiai.toml")
                    : fs::is_directory(folder, error) ? std::string("missing kiai.toml")
                                                      : model::fill("missing folder \"{}\"", absolute(folder).string()),
                    "name the folder with the kiai.toml");
    const auto stream = access.stream("kiai.toml");
    std::string text(most_bytes + 1, '\0');
    if (stream) stream->read(text.data(), static_cast<std::streamsize>(text.size()));
    if (!stream || stream->bad())
        return fail(FindingCode::no_project, {}, "kiai.toml cannot be read", "check the file's permissions");
    text.resize(static_cast<std::size_t>(stream->gcount()));
    if (text.size() > most_bytes)
        return fail(FindingCode::no_project, {}, "kiai.toml is larger than 16 MiB",
                    "split the project, or check that this is a project file");
    return {std::move(text), {}};
}

LoadResult read_folder(FolderClips& clips, const LoadOptions& options) {
    ProjectText read = read_text(clips.folder(), clips.access());
    if (!read.findings.empty()) return nothing_but(std::move(read.findings));
    const reader::ReadOptions wishes{options.outside, options.placeholder, &options.samples};
    reader::Draft draft((clips.folder() / "kiai.toml").string(), clips, wishes);
    const auto parsed = parse_toml(read.text);
    if (const auto* syntax = std::get_if<SyntaxError>(&parsed)) {
        draft.findings.add(FindingCode::toml_syntax, Severity::error, syntax->source, syntax->message,
                           toml_fix(read.text, *syntax));
        return nothing_but(draft.findings.take());
    }
    const auto& root = std::get<reader::Value>(parsed);
    if (options.scopes) {
        NamedFiles named(clips.folder(), options.open);
        draft.left_out = not_asked_for(root, named, options, wishes, draft.findings);
    }
    return reader::read_project(std::move(draft), root);
}

} // namespace kiai::runtime
