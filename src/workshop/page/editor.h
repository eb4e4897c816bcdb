// Changes a project's kiai.toml for a page, and takes changes back.
#pragma once

#include "workshop/page/server.h"

#include <kiai/workshop/check.h>

#include <filesystem>
#include <functional>
#include <mutex>
#include <string>
#include <vector>

namespace kiai::workshop {

class Editor {
  public:
    explicit Editor(std::filesystem::path folder) : folder_(std::move(folder)) {}

    /// Returns a number that identifies the text of kiai.toml. [any]
    std::string text_id() const;

    /// Answers `edit`, `bind`, `unbind`, `remove` and `undo`; status 404 for anything else. The request states the text
    /// that it was made for; if the file has changed since, nothing is done. [any]
    PageAnswer answer(const PageRequest& request);

  private:
    PageAnswer change(const PageRequest& request, const std::function<EditResult()>& edit);
    PageAnswer undo();

    struct Step {
        std::string before, after;
    };
    static constexpr std::size_t most_steps = 100;

    const std::filesystem::path folder_;
    mutable std::mutex mutex_;
    std::vector<Step> steps_; ///< oldest first
};

} // namespace kiai::workshop
