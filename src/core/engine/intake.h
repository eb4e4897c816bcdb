// Turns what the app calls into one fixed-size command.
#pragma once

#include "core/engine/placing.h"
#include "core/mixer/core.h"
#include "core/model/names.h"

#include <kiai/report.h>
#include <kiai/units.h>

#include <atomic>
#include <cstdint>
#include <map>
#include <mutex>
#include <optional>
#include <span>
#include <string_view>

namespace kiai::engine {

/// The numbers of a report.
struct Numbers {
    Point point{};
    std::uint64_t pointer = 0;
    PlayOptions options{}; ///< `bus` and `at` among them
    double value = 0;
    Frames due = mixer::next_block;
    mixer::Handles::Handle handle{};
    std::uint64_t pair = 0;
    std::span<const NamedValue> values{};
    Seconds over{0};
    Point size{};
    bool in_seconds = false;
    mixer::Handles::Handle with{};
    ActionTarget target = ActionTarget::sound;
    Seconds fade{-1};
    std::optional<Seconds> moment{}; ///< body: default the moment of the call
    AnyName from{};                  ///< crossfade
};

/// A call on a play.
struct Told {
    ReportKind kind = ReportKind::play_stop;
    double value = 0;
    Seconds over{0}; ///< play_stop: the fade, below 0: in its sound's own way
    AnyName name{};  ///< play_set
};

class Intake {
  public:
    /// [control] All must outlive the object.
    Intake(const mixer::CoreSettings& settings, model::NameTable& names, mixer::Core& core)
        : settings_(settings), names_(names), core_(core), placing_(settings.rate) {}

    /// Accepts every report: turns names into numbers and clamps numbers. Returns false if the report was lost. [any]
    bool take(ReportKind kind, AnyName name, AnyName other, Numbers numbers);
    /// The same for a report that starts a play. Returns its handle. [any]
    mixer::Handles::Handle begin(ReportKind kind, AnyName name, AnyName scope, Numbers numbers);
    /// The same for a call on a play. [any]
    bool tell(mixer::Handles::Handle handle, const Told& told, Frames due = mixer::next_block);
    /// Returns the frame for a call that is made now. [any]
    Frames due() const noexcept { return placing_.on() ? placing_.now() : mixer::next_block; }
    /// See Engine::begin_block. [rt]
    void begin_block(Frames now, std::chrono::steady_clock::time_point block, Frames delay) noexcept {
        placing_.tell(now, block, delay);
    }
    /// Returns true if a pointer was ever away from 0, 0. [any]
    bool pointed() const noexcept { return pointed_.load(std::memory_order_relaxed); }

    /// Returns a handle for a play that is reported under a number of the app. [any]
    mixer::Handles::Handle claim(std::uint64_t number);
    /// Returns the handle of the play with that number; none if it has ended. [any]
    mixer::Handles::Handle handle_of(std::uint64_t number);
    /// Deletes the numbers of ended plays, but only if there are many. [control]
    void forget_ended_numbers();

  private:
    /// Prefetches what `number_of` will read.
    void ask_ahead(AnyName name) const noexcept;
    /// Returns the number of a name. A constant of the names header contains it.
    model::NameId number_of(AnyName name);
    bool send(const mixer::Command& command) noexcept { return core_.ring().push(command) != 0; }
    void take_options(mixer::Command& command, const PlayOptions& options);
    double moment_of(std::optional<Seconds> given, Frames due) const noexcept;

    const mixer::CoreSettings& settings_;
    model::NameTable& names_;
    mixer::Core& core_;
    Placing placing_;
    std::atomic<bool> pointed_ = false;
    std::mutex mutex_;
    std::map<std::uint64_t, mixer::Handles::Handle> by_number_; ///< plays that reports asked for
    std::size_t numbers_kept_ = 256;
};

} // namespace kiai::engine
