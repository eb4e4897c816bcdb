// State that an Engine shares with its Plays.
#pragma once

#include "core/engine/edition.h"
#include "core/engine/end_calls.h"
#include "core/engine/intake.h"
#include "core/engine/memory.h"
#include "core/engine/trace_recorder.h"
#include "core/engine/translator.h"
#include "core/engine/usage_findings.h"
#include "core/mixer/core.h"
#include "core/model/guarded.h"

#include <kiai/engine.h>

#include <functional>
#include <map>
#include <memory>
#include <mutex>
#include <span>
#include <string>
#include <vector>

namespace kiai::inline v0 {

class EngineShared {
  public:
    EngineShared(Project to_play, const mixer::CoreSettings& core_settings);

    /// See Engine::set_project and Engine::poll. [control]
    void set_project(Project project);
    void poll();
    Project newest();
    /// Calls `call`; catches an exception and reports it once. [control]
    template<class Call>
    void call_app(const Call& call) noexcept {
        model::guarded(call, [this](const char* what) { app_threw(what); });
    }

    const mixer::CoreSettings settings;
    model::NameTable names;
    engine::Editions editions; ///< guarded by `mutex`, other than what only one thread reads
    mixer::Core core;
    engine::Intake intake;
    engine::Translator translator;
    engine::TraceRecorder recorder;
    engine::EndCalls end_calls;
    engine::Memory memory;                                                            ///< [control]
    engine::UsageFindings usage;                                                      ///< [control]
    std::shared_ptr<const std::function<void(const Decision&)>> log;                  ///< never null
    std::vector<std::weak_ptr<const std::function<void(const Decision&)>>> more_logs; ///< [control]
    std::function<void(const Finding&)> doubts;
    std::function<void(std::span<const float>)> mix_sink; ///< [control]

    /// What the app set for its buses; `render` does not read it.
    struct BusLevel {
        Decibels gain = 0;
        bool muted = false;
    };
    std::mutex mutex;
    std::map<std::string, BusLevel, std::less<>> buses;

  private:
    void start_streams(const model::Project& project);
    void hand_on_mix();
    void warn_of_limits();
    void app_threw(const char* what) noexcept;

    std::mutex changing_;
    bool threw_ = false;
    std::vector<float> mix_; ///< on its way to the sink
    Frames looked_at_ = 0;   ///< when limits were looked at last
};

} // namespace kiai::inline v0
