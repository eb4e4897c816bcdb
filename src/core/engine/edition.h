// The current project and those that will replace it.
#pragma once

#include "core/mixer/core.h"
#include "core/rules/router.h"

#include <kiai/project.h>

#include <atomic>
#include <memory>
#include <optional>
#include <vector>

namespace kiai::engine {

/// One state of the project, with everything that is made from it.
struct Edition {
    /// [control] The first edition, or the one that follows `before`.
    Edition(Project given, const Edition* before, model::NameTable& names, const mixer::CoreSettings& settings);

    Project given; ///< as the app gave it; keeps the samples
    mixer::Plan plan;
    rules::Router router;
    model::NameId fingerprint = model::no_name; ///< of its state, see Project::fingerprint
    std::optional<mixer::Change> change;        ///< from the one before
    std::optional<mixer::PlayTables> tables;
    std::atomic<Edition*> next{nullptr};
};

class Editions final : public mixer::Due {
  public:
    /// [control]
    Editions(Project first, model::NameTable& names, const mixer::CoreSettings& settings);
    void write_to(mixer::Journal& journal) noexcept;

    /// Makes the edition that follows `before`. This may take long and changes nothing. [control]
    std::unique_ptr<Edition> build(Project project, const Edition& before) const;
    /// `render` plays the edition from its next block on. [control]
    void append(std::unique_ptr<Edition> next);
    /// Returns the newest edition; the edition that the current records are about. [control]
    const Edition& newest() const noexcept { return *all_.back(); }
    const Edition& read() const noexcept { return *read_; }
    /// Returns the edition that `render` plays; it exists until `let_go`. [any]
    const Edition& playing() const noexcept { return *playing_.load(std::memory_order_acquire); }
    /// The next records are about the `count`-th edition after the current one. [control]
    void read_on(std::uint64_t count) noexcept;
    /// Deletes the editions that nothing uses any longer. [control]
    void let_go();

    bool begin_block(mixer::Plays& plays, Frames now) noexcept override;
    void serve(std::span<const mixer::Command* const> commands, mixer::Plays& plays, Frames now) noexcept override {
        now_playing().router.serve(commands, plays, now);
    }
    Frames next(const mixer::Plays& plays, Frames now) const noexcept override {
        return now_playing().router.next(plays, now);
    }
    int running() const noexcept override { return now_playing().router.running(); }

  private:
    model::NameTable& names_;
    mixer::CoreSettings settings_;
    mixer::Journal* journal_ = nullptr;
    std::vector<std::unique_ptr<Edition>> all_; ///< oldest first
    Edition* read_;
    Edition& now_playing() const noexcept { return *playing_.load(std::memory_order_relaxed); }
    std::atomic<Edition*> playing_; ///< set by `render`
};

} // namespace kiai::engine
