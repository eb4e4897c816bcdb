// The real-time core: the clock, the commands that are due, and the output.
#pragma once

#include "core/dsp/limiter.h"
#include "core/mixer/block_times.h"
#include "core/mixer/command_ring.h"
#include "core/mixer/due_queue.h"
#include "core/mixer/mix_tap.h"
#include "core/mixer/plays.h"

#include <atomic>
#include <span>

namespace kiai::mixer {

/// Turns reports into plays and stops; core/engine implements it.
class Due {
  public:
    virtual ~Due() = default;
    /// Starts a block, in which another project may replace the current one; returns true if it did. [rt]
    virtual bool begin_block(Plays& plays, Frames now) noexcept = 0;
    /// Serves all reports that are due at one frame, in the order of their tickets. [rt]
    virtual void serve(std::span<const Command* const> commands, Plays& plays, Frames now) noexcept = 0;
    /// Returns the next frame after `now` that needs serving even without a report. [rt]
    virtual Frames next(const Plays& plays, Frames now) const noexcept = 0;
    /// Returns how much is running and will continue without a report; see Engine::waiting. [rt]
    virtual int running() const noexcept = 0;
};

/// Settings with every value clamped to its range.
struct CoreSettings {
    int rate = 48000;
    std::uint64_t seed = 0;
    int voices = 256;
    std::size_t reports = 2048;
    bool portable_kernels = false;
    const dsp::Kernels& kernels() const noexcept {
        return portable_kernels ? dsp::portable_kernels() : dsp::vector_kernels();
    }
    bool record_levels = false;
    bool decide_only = false;
    int streams = 16;
    bool synchronous_streams = false;
};

class Core {
  public:
    /// [control] `plan` and `due` must outlive the object.
    Core(const Plan& plan, Due& due, const CoreSettings& settings);

    /// See Engine::render. [rt]
    void render(std::span<float> out) noexcept;

    Frames now() const noexcept { return now_.load(std::memory_order_acquire); }
    int sounding() const noexcept { return sounding_.load(std::memory_order_acquire); }
    int waiting() const noexcept { return waiting_.load(std::memory_order_acquire); }
    int looping() const noexcept { return looping_.load(std::memory_order_acquire); }
    int latency() const noexcept { return limiter_.latency(); }
    /// Returns how near the core is to its limits, except for the memory of the project. [any]
    Load load() const;
    BusMeters& meters() noexcept { return meters_; }
    BusInserts& inserts() noexcept { return inserts_; }
    MixTap& tap() noexcept { return tap_; }
    const PlayBoard& board() const noexcept { return board_; }
    Streams& streams() noexcept { return streams_; }
    CommandRing& ring() noexcept { return ring_; }
    Journal& journal() noexcept { return journal_; }
    Handles& handles() noexcept { return handles_; }

  private:
    void take_reports(Frames now, Frames end) noexcept;
    void refuse(const Command& command, Frames now) noexcept;
    DueQueue& first_due() noexcept;
    Frames serve_due(Frames now) noexcept;
    void publish() noexcept;
    void hand_on(std::span<const float> out) noexcept;
    void render_block(float* out, int frames) noexcept;

    Due& due_;
    const dsp::Kernels& kernels_;
    const bool decide_only_;
    CommandRing ring_;
    CommandPool later_;                 ///< what the calendar holds
    DueQueue queue_;                    ///< what is due within the present call of `render`; it stays in the ring
    DueQueue calendar_;                 ///< what is due later
    std::vector<const Command*> batch_; ///< what is being served
    Frames next_ = 0;                   ///< when `due_` wants to serve again
    Journal journal_;
    Handles handles_;
    Streams streams_;
    BusMeters meters_;
    BusInserts inserts_;
    PlayBoard board_;
    BlockTimes times_;
    MixTap tap_;
    Plays plays_;
    dsp::Limiter limiter_;
    struct alignas(64) Line { // so that the kernels' widest vectors do not cross a cache line
        float frames[16];
    };
    std::vector<Line> left_, right_;
    std::atomic<Frames> now_{0};
    std::atomic<int> sounding_{0}, looping_{0}, waiting_{0}, voices_{0}, streaming_{0};
    const CoreSettings settings_;
};

} // namespace kiai::mixer
