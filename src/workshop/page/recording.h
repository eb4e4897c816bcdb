// Records what is done on a page as a trace, and writes what it shows as expectations.
#pragma once

#include "workshop/page/server.h"

#include <kiai/engine.h>
#include <kiai/workshop/expect.h>

#include <filesystem>
#include <mutex>
#include <vector>

namespace kiai::workshop {

class Recording {
  public:
    /// `engine` must outlive the object. `control`: held during the calls that only one thread may make.
    Recording(std::filesystem::path folder, Engine& engine, std::mutex& control)
        : folder_(std::move(folder)), engine_(engine), control_(control) {}

    /// Answers `record`, which saves a trace into the folder `traces`, and for the last trace `recording` (what its
    /// rehearsal shows), `recording.png` and `expect`; status 404 for anything else. [any]
    PageAnswer answer(const PageRequest& request);

  private:
    PageAnswer record(bool start);
    PageAnswer show();
    PageAnswer picture();
    PageAnswer expect(std::size_t number);
    Rehearsal rehearsed() const;
    std::string relative(const std::filesystem::path& file) const;

    const std::filesystem::path folder_;
    Engine& engine_;
    std::mutex& control_;
    std::mutex mutex_;                 ///< one request at a time
    std::filesystem::path file_;       ///< the last trace; empty: none
    std::vector<Expectation> shown_;   ///< what the rehearsal of that trace shows
    std::vector<std::size_t> written_; ///< which of them are in the expectations file
};

} // namespace kiai::workshop
