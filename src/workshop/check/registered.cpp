// Reports doubts about registered and unregistered files.
#include "runtime/project/folder.h"
#include "workshop/check/findings.h"

#include <fmt/format.h>

#include <map>
#include <set>

namespace kiai::workshop {

namespace fs = std::filesystem;

void doubt_files(const model::Project& project, const fs::path& folder, reader::Findings& findings) {
    std::map<std::uint64_t, const model::Clip*> by_content;
    std::set<fs::path> named;
    std::error_code error;
    for (const model::Clip& clip : project.clips) {
        named.insert(fs::weakly_canonical(folder / clip.file, error));
        const auto [other, fresh] = by_content.emplace(clip.facts->hash, &clip);
        if (fresh) continue;
        findings.add(FindingCode::same_content, clip.source,
                     fmt::format("clip \"{}\": the same content as clip \"{}\"", clip.name, other->second->name),
                     "use one clip for both", clip.name);
    }
    for (const fs::path& file : runtime::find_audio(folder).audio) {
        if (named.contains(fs::weakly_canonical(file, error))) continue;
        const std::string path = file.lexically_relative(folder).generic_string();
        if (path.starts_with("originals/")) continue; // of clips that were converted
        findings.add(FindingCode::unregistered_file, {}, fmt::format("\"{}\" is not registered as a clip", path),
                     fmt::format("run kiai add \"{}\", or delete the file", path), path);
    }
}

} // namespace kiai::workshop
