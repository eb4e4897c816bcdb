// Files in memory, which a test gives to the loader and may block.
#pragma once

#include <kiai/clip_source.h>

#include <atomic>
#include <condition_variable>
#include <map>
#include <memory>
#include <mutex>
#include <string>

namespace support {

/// A disk that stalls while it is blocked.
class Gate {
  public:
    void hold();
    void let_go();
    /// Waits while the gate is closed.
    void pass();
    /// Returns once a thread waits in `pass`.
    void wait_for_one();

  private:
    std::mutex mutex_;
    std::condition_variable changed_;
    bool held_ = false;
    int waiting_ = 0;
};

/// A reader of files by name; each read passes the gate.
kiai::OpenFile files_in_memory(std::map<std::string, std::string> files, std::shared_ptr<Gate> gate = nullptr);

} // namespace support
