// Records served reports as lines of a trace.
#pragma once

#include "core/engine/edition.h"
#include "core/mixer/core.h"
#include "core/model/names.h"

#include <kiai/trace.h>

#include <cstdint>
#include <map>

namespace kiai::engine {

class TraceRecorder {
  public:
    /// [control] All must outlive the object.
    TraceRecorder(const Editions& editions, const model::NameTable& names, mixer::Core& core, int rate) noexcept
        : editions_(editions), names_(names), core_(core), rate_(rate) {}

    /// See Engine::start_recording and Engine::stop_recording. [control]
    void start(std::uint64_t seed);
    Trace stop(std::uint64_t* lost);
    /// Moves served reports into the trace that is being recorded. [control]
    void read_served();
    /// Notes that another project plays from here on. [control]
    void note_change(const decisions::Record& record);

  private:
    TraceLine line_of(const mixer::Command& command);
    std::uint64_t number_of(std::uint32_t slot, std::uint32_t generation);
    bool send_snapshot() noexcept;

    const Editions& editions_;
    const model::NameTable& names_;
    mixer::Core& core_;
    int rate_;
    bool recording_ = false, snapshot_owed_ = false;
    Frames since_ = 0;
    std::uint64_t unrecorded_before_ = 0;
    Trace recorded_;
    std::map<std::uint64_t, std::uint64_t> number_of_; ///< of a handle
};

} // namespace kiai::engine
