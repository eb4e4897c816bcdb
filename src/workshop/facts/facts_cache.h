// Keeps the facts of a project's files in .kiai-facts.json, so that each file is measured once.
#pragma once

#include "runtime/project/folder_clips.h"

#include <map>
#include <string>

namespace kiai::workshop {

/// The cache may be deleted at any time. A folder that cannot be written simply has none.
class FactsCache : public runtime::FolderClips {
  public:
    /// `verify`: hashes every file, instead of trusting its size and time.
    FactsCache(std::filesystem::path folder, bool verify, Progress progress = {});

    /// Returns the facts of each file, without samples: cached facts if size and time or the content are the same;
    /// otherwise measured ones.
    std::vector<reader::Decoded> read(const std::vector<reader::AskedFile>& files) override;
    /// Finds a moved file by its content, otherwise by a similar name.
    Meant meant(const std::string& missing, const std::set<std::string>& named) override;
    /// Keeps facts of an existing file that were measured elsewhere.
    void remember(const std::string& file, const Facts& facts);
    /// Returns true if the project's folder contains a cache.
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
    /// Files in the folder that the project does not name, by size; set by the first search.
    std::optional<std::multimap<std::uintmax_t, std::string>> unnamed_;
};

} // namespace kiai::workshop
