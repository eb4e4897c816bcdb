#include "runtime/project/pack_file.h"
#include "runtime/project/read_pack.h"
#include "runtime/project/wanted_clips.h"

#include <kiai/load.h>

#ifdef KIAI_READS_FOLDERS
#include "runtime/project/read_folder.h"
#endif

namespace kiai::inline v0 {

LoadResult load_project(const std::filesystem::path& from, const LoadOptions& options) {
    std::error_code error;
    const bool file = !options.open && std::filesystem::is_regular_file(from, error);
#ifdef KIAI_READS_FOLDERS
    if (!file) {
        runtime::DecodedFiles decoded(from, options);
        return runtime::read_folder(decoded, options);
    }
#else
    if (!file) {
        reader::Findings findings(from.string());
        findings.add(FindingCode::no_project, Severity::error, {},
                     "missing pack; this build of Kiai cannot read folders", "use a pack made by `kiai pack`");
        return runtime::nothing_but(findings.take());
    }
#endif
    return runtime::read_pack(std::make_shared<const runtime::FileBytes>(from), from.string(), options);
}

LoadResult load_pack(std::vector<std::byte> pack, const LoadOptions& options) {
    return runtime::read_pack(std::make_shared<const runtime::FileBytes>(std::move(pack)), "pack", options);
}

} // namespace kiai::inline v0
