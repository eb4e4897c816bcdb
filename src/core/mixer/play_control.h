// Calls on plays, by their handles or in groups.
#pragma once

#include "core/mixer/endings.h"
#include "core/mixer/seeks.h"

#include <optional>

namespace kiai::mixer {

class PlayControl {
  public:
    PlayControl(PlayTable& table, Endings& endings) noexcept : table_(table), endings_(endings), seeks_(table) {}

    int stop(Which which, double seconds, FadeCurve curve, std::uint64_t by, Frames now) noexcept;
    int leave(int scope, double seconds, std::uint64_t by, Frames now) noexcept;
    void stop_loops(double seconds, std::uint64_t by, Frames now) noexcept;
    int pause(Which which, Pauser by, bool on, Frames now) noexcept;
    bool sounds(int sound) const noexcept;
    std::optional<Belonging> newest(int sound, int within) noexcept;
    void set_sound_gain(int sound, double decibels, double seconds, Frames now) noexcept;
    void set_bus_gain(int bus, double decibels, double seconds, Frames now) noexcept;
    void mute_sound(int sound, bool on, Frames now) noexcept;
    void mute_bus(int bus, bool on, Frames now) noexcept;
    // Applies a call on a play and writes it with `cause`. No effect on a play that has ended.
    void stop_play(Handles::Handle handle, double seconds, FadeCurve curve, const decisions::Record& cause,
                   Frames now) noexcept;
    void pause_play(Handles::Handle handle, bool on, const decisions::Record& cause, Frames now) noexcept;
    void set_gain(Handles::Handle handle, double decibels, double seconds, const decisions::Record& cause,
                  Frames now) noexcept;
    void slide(Handles::Handle handle, Slide ActivePlay::*what, double to, double seconds,
               const decisions::Record& cause, Frames now) noexcept;
    void seek(Handles::Handle handle, double seconds, const decisions::Record& cause, Frames now) noexcept;
    void set_own(Handles::Handle handle, model::NameId name, double value, const decisions::Record& cause,
                 Frames now) noexcept;
    void count_from(int sound, std::uint64_t accepted, std::span<const std::uint64_t> heard) noexcept;

  private:
    void relevel(Which which, double seconds, Frames now) noexcept;
    void say(const ActivePlay& play, decisions::Record record, Outcome outcome, Frames now) noexcept;
    void say_moved(ActivePlay& play, const decisions::Record& record, Frames now) noexcept;
    void set_paused(int index, std::uint8_t pauses, Frames now) noexcept;

    PlayTable& table_;
    Endings& endings_;
    Seeks seeks_;
};

} // namespace kiai::mixer
