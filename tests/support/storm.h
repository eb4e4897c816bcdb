// Everything at once: threads that make every report and call, against a project that uses every key.
#pragma once

#include <kiai/engine.h>

#include <atomic>
#include <cstdint>
#include <filesystem>
#include <thread>
#include <vector>

namespace support {

/// A project with every kind of entry, streamed clips and tight limits among them, and a second state of it.
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

/// Makes one call, of every kind in turn; `plays` are the handles that it keeps. Any thread, with handles of its own.
void do_something(kiai::Engine& engine, std::uint64_t chance, std::vector<kiai::Play>& plays);

/// Threads that call, and one that polls and changes the project, while something else renders.
class Storm {
  public:
    /// `calls`: by each of `callers` threads, 16 to every 128 frames that are rendered, so that there is room for all.
    Storm(kiai::Engine& engine, const StormProject& project, int callers, int calls);
    /// All calls have been made.
    bool over() const { return calling_ == 0; }
    int changes() const { return changes_; }
    /// Joins them; the project is changed no more.
    ~Storm();

  private:
    std::atomic<int> calling_;
    std::atomic<int> changes_{0};
    std::vector<std::thread> threads_;
};

} // namespace support
