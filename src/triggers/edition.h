// The project that plays, and those that follow it.
#pragma once

#include "engine/core.h"
#include "triggers/router.h"

#include <kiai/project.h>

#include <atomic>
#include <memory>
#include <optional>
#include <vector>

namespace kiai::triggers {

/// One state of the project, with all that is made from it.
struct Edition {
    /// [control] The first, or what follows `before`.
    Edition(Project given, const Edition* before, engine::NameTable& names, const engine::CoreSettings& settings);

    Project given; ///< as the app gave it; keeps the samples
    engine::Plan plan;
    Router router;
    engine::NameId mark = engine::no_name; ///< of its state, see Project::mark
    std::optional<engine::Change> change;  ///< from the one before
    std::optional<engine::Plays::Tables> tables;
    std::atomic<Edition*> next{nullptr};
};

class Editions final : public engine::Due {
  public:
    /// [control]
    Editions(Project first, engine::NameTable& names, const engine::CoreSettings& settings);
    void write_to(engine::Journal& journal) noexcept;

    /// What follows `before`; takes as long as it takes, and changes nothing. [control]
    std::unique_ptr<Edition> build(Project project, const Edition& before) const;
    /// `render` continues with it from its next block on. [control]
    void append(std::unique_ptr<Edition> next);
    /// The one that was given last; the one that the records tell of which are being read. [control]
    const Edition& newest() const noexcept { return *all_.back(); }
    const Edition& read() const noexcept { return *read_; }
    /// The records that follow tell of the `count`-th after it. [control]
    void read_on(std::uint64_t count) noexcept;
    /// Those that nothing uses any more go. [control]
    void let_go();

    bool begin_block(engine::Plays& plays, Frames now) noexcept override;
    void serve(std::span<const engine::Command> commands, engine::Plays& plays, Frames now) noexcept override {
        playing_->router.serve(commands, plays, now);
    }
    Frames next(const engine::Plays& plays, Frames now) const noexcept override {
        return playing_->router.next(plays, now);
    }
    int running() const noexcept override { return playing_->router.running(); }

  private:
    engine::NameTable& names_;
    engine::CoreSettings settings_;
    engine::Journal* journal_ = nullptr;
    std::vector<std::unique_ptr<Edition>> all_; ///< oldest first
    Edition* read_;
    Edition* playing_; ///< of `render`
};

} // namespace kiai::triggers
