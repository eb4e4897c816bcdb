// The handle to one play of a sound.
#pragma once

#include <kiai/decision.h>
#include <kiai/name.h>
#include <kiai/units.h>

#include <cstdint>
#include <functional>
#include <memory>
#include <string>

namespace kiai::inline v0 {

class EngineShared;

/// A play that the app started: a small value. A copy means the same play. A dropped handle lets the play continue, and
/// a handle may outlive the engine. All calls are [any] thread and return at once. A call on a play that has ended has
/// no effect.
class Play {
  public:
    /// Makes a handle to nothing, which counts as ended.
    Play() = default;

    /// Returns a number that means only this play, for a script that cannot keep a Play; 0 for a handle to nothing.
    /// See Engine::play_of.
    std::uint64_t id() const noexcept { return generation_ == 0 ? 0 : std::uint64_t{generation_} << 32 | slot_; }

    /// Returns true until the last frame of the play was mixed, or the play was refused.
    bool playing() const noexcept;

    /// Returns why the play ended or never started; `none` while it plays, and once its slot is used by a later play.
    EndReason reason() const noexcept;

    /// Returns the number of the play in the log, from 1; 0 before the start, and once its slot is used by a later
    /// play.
    std::uint32_t number() const noexcept;

    /// Returns the name in the call that started the play; empty for a handle to nothing, and once its slot is used by
    /// a later play.
    std::string sound() const;

    PlayState state() const noexcept;

    /// Returns the playing time so far, without pauses. After the end: the total playing time.
    Seconds elapsed() const noexcept;

    /// Returns the position of the first layer in its clip, in seconds of the clip, as of the last block. In a loop it
    /// returns to the start of the loop. 0 before the start. The first call makes the engine track positions; until the
    /// next block it returns `elapsed`.
    Seconds position() const noexcept;
    /// Returns how many turns of the loop follow the current one; -1 if the loop is endless. Of the first layer; valid
    /// from the block after the first call.
    int loops_left() const noexcept;

    /// Pauses within 10 ms, also during a fade-out.
    void pause() noexcept;
    /// Resumes at the position of the pause.
    void resume() noexcept;

    /// Moves every layer to a position of its clip, in seconds from 0. The play falls silent within 10 ms, and rises
    /// within 10 ms once the position was read. Loops count again. A layer whose clip is shorter ends. A seek before
    /// the first block applies from the first frame.
    void seek(Seconds place) noexcept;

    /// Sets a callback that the first Engine::poll after the end of the play calls, once, on the polling thread, also
    /// if the play has already ended. Replaces the earlier callback; nullptr removes it. After the return, the earlier
    /// callback is not called unless it is running. The callback may use the engine and this function.
    void on_ended(std::function<void(EndReason)> call);

    /// Ends the play as its sound says: with its fade-out, or after the tail of its loop.
    void stop() noexcept;
    /// Ends the play with a raised-cosine fade. `fade`: at least 5 ms. If the play is already ending and would take
    /// longer, shortens its ending to `fade`.
    void stop(Seconds fade) noexcept;

    /// Moves the gain of the play, in addition to kiai.toml, along a raised cosine.
    /// `gain`: -120 … 24 dB. `over`: 10 ms … 3600 s. NaN is ignored and a number out of range is clamped; both are
    /// logged.
    void set_gain(Decibels gain, Seconds over = Seconds(0.01)) noexcept;
    /// Moves the pitch of the play in the same way. `pitch`: -48 … 48 semitones, added to the others. A call before the
    /// first block applies from the first frame.
    void set_pitch(Semitones pitch, Seconds over = Seconds(0.01)) noexcept;
    /// Moves the pan of the play in the same way. `pan`: -1 … 1, added to the others; the sum is clamped.
    void set_pan(Pan pan, Seconds over = Seconds(0.01)) noexcept;

    /// Sets a value of this play that a follow of its sound names: `roll.set("speed", 2.3f)`. It is 0 before the first
    /// call. Follows move to it in their `smooth` time. A call before the first block applies from the first frame.
    /// An unknown name or NaN is ignored and logged.
    void set(ValueName value, float to);

  private:
    friend class Engine;
    void end(Seconds fade) noexcept;
    void tell(ReportKind kind) noexcept;
    void move(ReportKind kind, float to, Seconds over) noexcept;
    Play(std::weak_ptr<EngineShared> engine, std::uint32_t slot, std::uint32_t generation)
        : engine_(std::move(engine)), slot_(slot), generation_(generation) {}

    std::weak_ptr<EngineShared> engine_;
    std::uint32_t slot_ = 0;
    std::uint32_t generation_ = 0;
};

} // namespace kiai::inline v0

#ifdef KIAI_SILENT
#include <kiai/silent/play.h>
#endif
