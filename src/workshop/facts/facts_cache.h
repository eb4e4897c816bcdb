// The facts of a project's files, kept beside it in .kiai-facts.json, so that a file is measured once.
#pragma once

#include "runtime/project/folder_clips.h"

#include <map>
#include <string>

namespace kiai::workshop {

/// The cache may be deleted at any time, and a folder that cannot be written just has none.
class FactsCache : public runtime::FolderClips {
  public:
    /// `verify`: believe no size and time, hash every file.
    FactsCache(std::filesystem::path folder, bool verify, Progress progress = {});

    /// The facts of each file, without samples: as they are kept if size and time of change are the same, or else the
    /// content; else measured.
    std::vector<reader::Decoded> read(const std::vector<reader::AskedFile>& files) override;
    /// By its content, wherever it was moved to; else as its name says.
    Meant meant(const std::string& missing, const std::set<std::string>& named) override;
    /// Keeps what was measured elsewhere of a file that is there now.
    void remember(const std::string& file, const Facts& facts);
    /// Whether the project's folder holds a cache.
    bool kept() const noexcept { return kept_; }
    /// Writes the cache if `read` or `remember` has added to it. Commands that only read never call it.
    void save() const;

  private:
    struct Entry {
        Facts facts;
        std::int64_t changed = 0; ///< the file's time of change, in ticks of the file clock
    };
    struct Look;

    Look look(const std::string& file) const;
    void load();

    std::filesystem::path folder_;
    bool verify_, kept_ = false, fresh_ = false;
    Progress progress_;
    std::map<std::string, Entry> entries_;
    std::map<std::uint64_t, std::string> by_hash_;
    /// Files in the folder that the project does not name, by size; once they were looked for.
    std::optional<std::multimap<std::uintmax_t, std::string>> unnamed_;
};

} // namespace kiai::workshop
