// What an Engine and its Plays share.
#pragma once

#include "core/engine/edition.h"
#include "core/engine/guarded.h"
#include "core/engine/memory.h"
#include "core/engine/placing.h"
#include "core/engine/usage_findings.h"
#include "core/mixer/core.h"

#include <kiai/engine.h>

#include <atomic>
#include <exception>
#include <functional>
#include <map>
#include <mutex>
#include <optional>
#include <string>
#include <type_traits>
#include <vector>

namespace kiai::inline v0 {

/// The numbers of a report.
struct Numbers {
    Point point{};
    std::uint64_t pointer = 0;
    PlayOptions options{};
    double value = 0;
    Frames due = mixer::next_block;
    mixer::Handles::Handle handle{};
    std::uint64_t pair = 0;
    std::span<const NamedValue> values{};
    Seconds over{0};
    Point size{};
    bool in_seconds = false;
    mixer::Handles::Handle with{};
    std::optional<Seconds> moment{}; ///< body: default the moment of the call
};

class EngineShared {
  public:
    EngineShared(Project to_play, const mixer::CoreSettings& core_settings)
        : settings(core_settings), editions(std::move(to_play), names, settings),
          core(editions.newest().plan, editions, settings), usage(settings.rate), placing(settings.rate) {
        editions.write_to(core.journal());
        start_streams(editions.newest().given.data());
    }
    /// As Engine::set_project. [control]
    void set_project(Project project);
    /// Lets go of what nothing plays any more. [control]
    void let_go() {
        const std::lock_guard guard(mutex);
        editions.let_go();
    }
    /// What the records that are being read tell of. [control]
    const model::Project& told() const noexcept { return editions.read().plan.project(); }

    /// What every report comes through: names become numbers, numbers are held in range. [any]
    bool take(ReportKind kind, std::string_view name, std::string_view other, Numbers numbers);
    bool send(const mixer::Command& command) noexcept { return core.ring().push(command) != 0; }
    /// The frame for a call that is made now. [any]
    Frames due() const noexcept { return placing.on() ? placing.now() : mixer::next_block; }
    /// A command that ends something. `fade` below 0: in its own way. [any]
    mixer::Command ending(mixer::CommandKind kind, Seconds fade) const noexcept;
    double moment_of(std::optional<Seconds> given, Frames due) const noexcept;
    LimitReached limit_of(const decisions::Record& record) const;
    Decision translate(const decisions::Record& record);
    std::string nearest(const Decision& decision) const;

    mixer::CoreSettings settings;
    model::NameTable names;
    engine::Editions editions;
    mixer::Core core;
    std::shared_ptr<const std::function<void(const Decision&)>> log; ///< never null
    engine::Memory memory;                                           ///< [control]
    engine::UsageFindings usage;                                     ///< [control]
    engine::Placing placing;
    std::function<void(const Finding&)> doubts;
    std::atomic<bool> pointed = false; ///< a pointer has been somewhere else than at 0, 0

    /// What waits for the ends of plays. [control]
    void await_end(mixer::Handles::Handle handle, std::function<void(EndReason)> call);
    void call_ended();
    /// Calls `call`; what it throws is caught and reported once. [control]
    template<class Call>
    void call_app(const Call& call) noexcept {
        engine::guarded(call, [this](const char* what) { app_threw(what); });
    }

    /// A report of a play that was asked for with a number.
    bool take_of_play(const Report& report, Frames due);
    /// Moves what was served into the trace that is being recorded. [control]
    void read_served();
    TraceLine line_of(const mixer::Command& command);
    /// From here on the records tell of another state of the project. [control]
    void read_change(const decisions::Record& record);
    bool send_snapshot() noexcept;
    bool recording = false, snapshot_owed = false;
    Frames recording_since = 0;
    std::uint64_t unrecorded_before = 0;
    Trace recorded;
    std::map<std::uint64_t, mixer::Handles::Handle> by_number; ///< plays that reports asked for
    std::size_t numbers_kept = 256;
    void forget_ended_numbers();
    std::map<std::uint64_t, std::uint64_t> number_of; ///< while recording: of a handle

    /// What the app has set of its buses; never looked at by `render`.
    struct BusLevel {
        Decibels gain = 0;
        bool muted = false;
    };
    std::mutex mutex;
    std::map<std::string, BusLevel, std::less<>> buses;

  private:
    void start_streams(const model::Project& project);
    void app_threw(const char* what) noexcept;

    struct Waiting {
        mixer::Handles::Handle handle;
        std::function<void(EndReason)> call;
    };
    std::mutex changing_;
    bool threw_ = false;
    std::vector<Waiting> waiting_;
    std::vector<Waiting> calling_; ///< those whose play has ended, while they are being called
};

/// Holds a number in its range and marks what was not; not finite: the report is not served.
template<class Number>
void check(mixer::Command& command, Number& value, std::type_identity_t<Number> low,
           std::type_identity_t<Number> high) noexcept;

} // namespace kiai::inline v0
