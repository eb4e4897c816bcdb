#include "runtime/project/read_pack.h"

#include "runtime/project/pack_clips.h"
#include "runtime/project/wanted_clips.h"

namespace kiai::runtime {

LoadResult read_pack(std::shared_ptr<const FileBytes> file, const std::string& name, const LoadOptions& options) {
    Pack pack;
    if (PackError error = open_pack(std::move(file), pack); !error.message.empty()) {
        reader::Findings findings(name);
        findings.add(error.code, Severity::error, {}, std::move(error.message), std::move(error.fix));
        return nothing_but(findings.take());
    }
    const reader::ReadOptions wishes{true, options.placeholder, &options.samples};
    PackClips clips(pack, &options), named(pack, nullptr);
    reader::Draft draft("kiai.toml", clips, wishes); // lines are those of the file that the pack was made from
    draft.fingerprint = pack.index.fingerprint;
    if (options.scopes) draft.left_out = not_asked_for(pack.index.root, named, options, wishes, draft.findings);
    return reader::read_project(std::move(draft), pack.index.root);
}

} // namespace kiai::runtime
