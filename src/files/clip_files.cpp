#include "files/clip_files.h"

namespace kiai::files {

std::vector<Decoded> DecodedFiles::read(const std::vector<AskedFile>& files) {
    std::vector<Decoded> all(files.size());
    in_parallel(
        files.size(),
        [&](std::size_t i) {
            if (!cancel_.stop_requested()) {
                all[i] = decode(access(), files[i].file, files[i].stream);
                return;
            }
            all[i].code = FindingCode::load_cancelled;
            all[i].sentence = "was not read, since loading was cancelled";
            all[i].mend = "load the project again";
        },
        progress_);
    return all;
}

} // namespace kiai::files
