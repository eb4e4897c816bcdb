// The level of each bus: kiai.toml, the app and ducking.
#pragma once

#include "core/mixer/envelope.h"
#include "core/mixer/planned_bus.h"

#include <kiai/units.h>

#include <vector>

namespace kiai::mixer {

class BusGains {
  public:
    /// [control] Allocates all memory. `frames`: the longest stretch.
    BusGains(const PlannedBuses& plan, int frames);

    /// Continues from the gains of the previous project, and moves to the new ones. [rt]
    void go_on_from(const BusGains& was, Frames length, Frames now) noexcept;

    /// Takes over what was set for the bus of the same name. [rt]
    void adopt(int bus, const BusGains& was, int from) noexcept;

    /// Sets the app's linear gain, on top of kiai.toml's, over `length` frames. [rt]
    void set_gain(int bus, float gain, Frames length, Frames now) noexcept;
    void mute(int bus, bool on, Frames now) noexcept;
    float gain(int bus) const noexcept { return of(bus).set; }
    bool muted(int bus) const noexcept { return of(bus).muted; }
    /// Returns true if the bus or one of its parents is muted. [rt]
    bool silenced(int bus) const noexcept;
    /// Ducks the bus to the linear gain `gain` over `length` frames. [rt]
    void duck(int bus, float gain, Frames length, Frames now) noexcept;

    /// Returns the target gain of a bus and its parents, without ducking; linear. [rt]
    double level(int bus) const noexcept;

    /// Starts a stretch of `frames` frames at `now`, whose gains can be read until the next call. [rt]
    void begin(Frames now, int frames) noexcept;
    /// Returns the gain of each frame of the stretch, or null if it is 1 or constant; then use `steady`. [rt]
    const float* shape(int bus) const noexcept { return of(bus).moving ? of(bus).shape.data() : nullptr; }
    float steady(int bus) const noexcept { return of(bus).now; }
    /// Returns the factor for a play on the bus at a frame of the stretch, without ducking. [rt]
    double heard(int bus, Frames frame) const noexcept {
        return of(bus).path_moves ? heard_moving(bus, frame) : of(bus).heard;
    }
    /// Returns true if that factor is constant in the stretch. [rt]
    bool heard_steadily(int bus) const noexcept { return !of(bus).path_moves; }

  private:
    struct Bus {
        float set = 1; ///< by the app
        bool muted = false;
        bool moving = false;     ///< in these frames
        bool listed = false;     ///< in `moving_`
        bool path_moves = false; ///< it, or one that it goes into, moves without ducking
        float now = 1;           ///< if it does not move
        double heard = 1;        ///< where `path_moves` is false
        Envelope own, ducking;
        std::vector<float> own_shape, shape; ///< without and with ducking
    };
    Bus& of(int bus) noexcept { return buses_[static_cast<std::size_t>(bus)]; }
    const Bus& of(int bus) const noexcept { return buses_[static_cast<std::size_t>(bus)]; }
    float target(int bus) const noexcept;
    void look_at_paths() noexcept;
    double heard_moving(int bus, Frames frame) const noexcept;
    void move(int bus, Envelope Bus::*envelope, float to, Frames length, Frames now) noexcept;
    static void write(Envelope& envelope, Frames now, int frames, float* out) noexcept;

    const PlannedBuses* plan_;
    std::vector<Bus> buses_;
    std::vector<int> moving_; ///< those whose gain may be on its way
    bool moved_ = true;       ///< in the stretch before, or it is the first
    Frames begin_ = 0;
};

} // namespace kiai::mixer
