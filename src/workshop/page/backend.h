// Answers the requests of the pages that show one engine.
#pragma once

#include "workshop/page/describe.h"
#include "workshop/page/editor.h"
#include "workshop/page/feed.h"
#include "workshop/page/recording.h"
#include "workshop/page/server.h"

#include <kiai/engine.h>
#include <kiai/speaker.h>

#include <atomic>
#include <filesystem>
#include <map>
#include <memory>
#include <mutex>
#include <string>

namespace kiai::workshop {

class PageBackend {
  public:
    struct Plan {
        PageRights rights;
        std::filesystem::path folder;     ///< of the project; empty: only what the engine has is shown
        std::filesystem::path over;       ///< a picture of the app, PNG
        const Speaker* speaker = nullptr; ///< what plays; null: the app's own matter
        Recording* recording = nullptr;   ///< null: the page cannot record
        Editor* editor = nullptr;         ///< null: the page cannot change kiai.toml
    };
    /// `engine` must live as long as the backend.
    PageBackend(Engine& engine, Project project, Plan plan);

    /// Shows another project from now on. Quick: its tables are made when a page asks for them. [any]
    void set_project(Project project);
    Project project() const;

    Feed& feed() noexcept { return feed_; }
    PageAnswer answer(const PageRequest& request);
    PageEvents events();

  private:
    PageAnswer get(const PageRequest& request);
    PageAnswer post(const PageRequest& request);
    PageAnswer report(const std::string& lines);
    PageAnswer fire(const PageRequest& request);
    PageAnswer why(const PageRequest& request) const;
    PageAnswer clip(const PageRequest& request);
    std::string event(const Feed::Part& part, std::uint64_t& next_level);
    std::shared_ptr<const PageProject> shown();

    Engine& engine_;
    const Plan plan_;
    Feed feed_;
    mutable std::mutex mutex_;
    Project project_;
    std::uint64_t revision_ = 0;                   ///< another one for each project that was set
    std::shared_ptr<const PageProject> shown_;     ///< the tables, perhaps of an older revision
    std::map<std::string, std::string> waveforms_; ///< by clip, of the project
    std::map<std::uint64_t, Frames> triggered_;    ///< by binding: when the trigger that the page made is due
    std::mutex reading_;                           ///< one thread at a time reads the folder
    std::shared_ptr<std::atomic<int>> open_ = std::make_shared<std::atomic<int>>(0);
};

} // namespace kiai::workshop
