#include "workshop/edit/expand.h"

#include "runtime/project/folder.h"
#include "workshop/disk/matching.h"

#include <set>

namespace kiai::workshop {
namespace {

namespace fs = std::filesystem;

class Expansion {
  public:
    void add(const fs::path& path, bool may_be_pattern) {
        std::error_code error;
        const fs::file_status status = fs::status(path, error);
        if (fs::is_directory(status))
            add_folder(path);
        else if (fs::is_regular_file(status))
            add_file(path, path.filename());
        else if (may_be_pattern && path.string().find_first_of("*?[") != std::string::npos)
            add_pattern(path);
        else if (error && status.type() != fs::file_type::not_found)
            refuse(path, error.message(),
                   "correct the path, or the permissions"); // a link that leads to itself, and such
        else if (fs::exists(status))
            refuse(path, "is neither a file nor a folder", "name an audio file");
        else
            refuse(path, "is missing", "correct the path");
    }

    Expanded result;

  private:
    void refuse(const fs::path& path, std::string why, std::string fix) {
        result.files.push_back({path, path.filename(), std::move(why), std::move(fix)});
    }

    void add_file(const fs::path& path, fs::path below) {
        std::error_code error;
        if (!seen_.insert(fs::weakly_canonical(path, error)).second) return;
        result.files.push_back({path, std::move(below), {}, {}});
    }

    void add_folder(const fs::path& folder) {
        std::error_code error;
        const fs::path name = fs::weakly_canonical(folder, error).filename();
        const runtime::Found found = runtime::find_audio(folder);
        for (const fs::path& file : found.audio) {
            if (fs::is_regular_file(file, error))
                add_file(file, name / file.lexically_relative(folder));
            else
                refuse(file, error ? error.message() : "is no file", "correct or delete the link");
        }
        for (const fs::path& closed : found.closed)
            refuse(closed, "is a folder without read permission", "change the permissions of the file");
        result.others += found.others;
    }

    void add_pattern(const fs::path& pattern) {
        const std::vector<fs::path> matches = matching(pattern);
        if (matches.empty()) refuse(pattern, "matches no file", "correct the pattern");
        for (const fs::path& match : matches) add(match, false);
    }

    std::set<fs::path> seen_;
};

} // namespace

Expanded expand(const std::vector<fs::path>& what) {
    Expansion expansion;
    for (const fs::path& path : what) expansion.add(path, true);
    return std::move(expansion.result);
}

} // namespace kiai::workshop
