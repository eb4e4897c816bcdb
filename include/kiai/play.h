// The handle to one sounding of a sound.
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

/// A play that the app asked for. A small value: copy it, drop it (the play goes on), use it after the engine is gone
/// (every call is then harmless). All calls are [any] thread and return at once.
class Play {
  public:
    /// A handle to nothing; it has ended.
    Play() = default;

    /// Returns a number that means this play for ever, for where no Play can be kept, such as a script; 0 for a handle
    /// to nothing. See Engine::play_of.
    std::uint64_t id() const noexcept { return generation_ == 0 ? 0 : std::uint64_t{generation_} << 32 | slot_; }

    /// True from the call that asked for it until its last frame has been mixed, or it was refused.
    bool playing() const noexcept;

    /// Returns why the play ended or never began; `none` while it plays. Known until many plays later, then `none`
    /// again.
    EndReason reason() const noexcept;

    /// Returns the number of the play in the log, from 1; 0 until it has begun, and when the engine has forgotten it.
    std::uint32_t number() const noexcept;

    /// Returns the name by which the sound was asked for; empty for a handle to nothing, and when the engine has
    /// forgotten the play.
    std::string sound() const;

    PlayState state() const noexcept;

    /// How long it has been heard, without what it was paused; once it has ended, in all.
    Seconds elapsed() const noexcept;

    /// Returns the place in its clip, in seconds of the clip, that its first layer has come to with the last block. In
    /// a loop it returns to the loop's beginning. 0 until it has begun, and when the engine has forgotten it. The first
    /// call for any play of an engine makes the engine keep track; until its next block it returns the time elapsed.
    Seconds position() const noexcept;
    /// Returns how many turns of the loop follow the present one, 0 where none does, -1 where the loop has no end. Of
    /// the first layer; as `position`, from the block after the first call on.
    int loops_left() const noexcept;

    /// It stands still within 10 ms, though it may be ending, and goes on from there. After the end: nothing.
    void pause() noexcept;
    void resume() noexcept;

    /// Continues at a place of its clips, in seconds of the clip, from 0: it falls silent within 10 ms and rises again
    /// from there, in 20 ms where the place is read from a file that answers in time. Every layer that still sounds
    /// goes there; loops begin to count again. Beyond the end of its clip a layer ends. A seek in the same moment as
    /// the play was asked for is heard from its first frame.
    void seek(Seconds place) noexcept;

    /// Sets what the next Engine::poll after the end of the play calls, once, on the thread that polls. If the play has
    /// already ended, the next poll calls it. Replaces an earlier `call`; nullptr removes it. Once this has returned,
    /// the earlier call is not made unless it is running. `call` may use the engine and this function.
    void on_ended(std::function<void(EndReason)> call);

    /// Ends it as its sound says: with its fade-out, or with the tail of its loop. Again, or after the end: nothing.
    void stop() noexcept;
    /// Ends it with a raised-cosine fade. `fade`: 5 ms or more, shorter is taken as 5 ms. Where it is ending, and would
    /// be over later, it is over by then; else, and after the end: nothing.
    void stop(Seconds fade) noexcept;

    /// Moves the gain of the play, on top of what kiai.toml says, along a raised cosine. `gain`: -120 … 24 dB. `over`:
    /// 10 ms … 3600 s. No effect for NaN, which the log reports; a number out of range is clamped and reported.
    void set_gain(Decibels gain, Seconds over = Seconds(0.01)) noexcept;
    /// Moves the pitch of the play in the same way. `pitch`: -48 … 48 semitones, added to all others. A pitch that is
    /// set in the same moment as the play was asked for holds from its first frame.
    void set_pitch(Semitones pitch, Seconds over = Seconds(0.01)) noexcept;
    /// Moves the pan of the play in the same way. `pan`: -1 … 1, added to all others; the sum is held within -1 … 1.
    void set_pan(Pan pan, Seconds over = Seconds(0.01)) noexcept;

    /// Sets a value of this play, 0 until then, that follows of its sound name: `roll.set("speed", 2.3f)`. They go to
    /// it smoothly, in the time that they say; what is set in the same moment as the play was asked for holds from its
    /// first frame. A name that its sound does not follow, or NaN: nothing, and the log says so.
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
