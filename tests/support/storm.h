// Everything at once: threads that make every report and call, with a project that uses every key.
#pragma once

#include <kiai/engine.h>

#include <atomic>
#include <cstdint>
#include <filesystem>
#include <thread>
#include <vector>

namespace support {

/// A project with every kind of entry, including streamed clips and tight limits, and a second state of it.
class StormProject {
  public:
    StormProject();
    ~StormProject();
    StormProject(const StormProject&) = delete;
    StormProject& operator=(const StormProject&) = delete;
    const kiai::Project& first() const { return projects_[0]; }
    const kiai::Project& second() const { return projects_[1]; }

  private:
    std::filesystem::path folder_;
    kiai::Project projects_[2];
};

/// Makes one call, of every kind in turn; `plays` are its handles. Any thread, with handles of its own.
void do_something(kiai::Engine& engine, std::uint64_t chance, std::vector<kiai::Play>& plays);

/// Threads that make calls, and one that polls and changes the project, while something else renders.
class Storm {
  public:
    /// `calls`: by each of `callers` threads, 16 per 128 rendered frames, so that there is room for all.
    Storm(kiai::Engine& engine, const StormProject& project, int callers, int calls);
    /// Returns true if all calls were made.
    bool over() const { return calling_ == 0; }
    int changes() const { return changes_; }
    /// Joins the threads; the project does not change any further.
    ~Storm();

  private:
    std::atomic<int> calling_;
    std::atomic<int> changes_{0};
    std::vector<std::thread> threads_;
};

} // namespace support
