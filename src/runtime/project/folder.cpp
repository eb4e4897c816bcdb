#include "runtime/project/folder.h"
#include "core/model/ascii.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <string_view>

namespace kiai::runtime {

namespace fs = std::filesystem;

bool stays_inside(const fs::path& folder, const fs::path& file) {
    std::error_code error;
    if (file.is_absolute()) return false;
    const fs::path root = fs::weakly_canonical(folder, error);
    const fs::path full = fs::weakly_canonical(folder / file, error);
    const fs::path relative = full.lexically_relative(root);
    return !error && !relative.empty() && *relative.begin() != "..";
}

bool named_like_audio(const fs::path& file) {
    static constexpr std::array<std::string_view, 19> known{".wav", ".wave", ".w64", ".rf64", ".aif", ".aiff", ".aifc",
                                                            ".au",  ".snd",  ".caf", ".flac", ".ogg", ".oga",  ".opus",
                                                            ".mp3", ".m4a",  ".aac", ".wv",   ".voc"};
    std::string extension = file.extension().string();
    for (char& c : extension) c = model::lower(c);
    return std::find(known.begin(), known.end(), extension) != known.end();
}

Found find_audio(const fs::path& folder) {
    Found found;
    std::vector<fs::path> folders{folder};
    while (!folders.empty()) {
        const fs::path here = std::move(folders.back());
        folders.pop_back();
        std::error_code error;
        fs::directory_iterator entries(here, error);
        if (error) {
            found.closed.push_back(here);
            continue;
        }
        for (; entries != fs::directory_iterator(); entries.increment(error)) {
            const fs::path& path = entries->path();
            std::error_code unknown;
            if (path.filename().string().starts_with('.')) continue;
            if (entries->is_directory(unknown)) {
                if (!entries->is_symlink(unknown) && !fs::exists(path / "kiai.toml", unknown)) folders.push_back(path);
            } else if (named_like_audio(path)) {
                found.audio.push_back(path);
            } else {
                ++found.others;
            }
        }
    }
    std::sort(found.audio.begin(), found.audio.end());
    std::sort(found.closed.begin(), found.closed.end());
    return found;
}

} // namespace kiai::runtime
