// A project as the render thread needs it: names as numbers, times as frames.
#pragma once

#include "engine/chance.h"
#include "engine/lap.h"
#include "engine/movers.h"
#include "engine/names.h"
#include "model/project.h"

#include <memory>
#include <vector>

namespace kiai::engine {

struct PlannedLayer {
    std::vector<Lap> laps;     ///< one per take
    std::vector<Mover> movers; ///< the sound's, then its own; empty: nothing moves it while it sounds
    bool bends = false;        ///< one of them moves its pitch
};

struct PlannedSound {
    const model::Sound* sound = nullptr;
    NameId name = no_name;
    std::uint64_t hash = 0;
    Frames gap = 0;
    Frames fade_in = 0;
    Frames fade_out = 0;
    bool endless = false;
    double bus_gain = 0;           ///< dB, of all its buses
    std::vector<int> buses;        ///< from its own up to `main`
    std::vector<NameId> own_names; ///< of the values that a play of it may be given
    std::vector<PlannedLayer> layers;
};

class Plan {
  public:
    /// [control]
    Plan(std::shared_ptr<const model::Project> project, NameTable& names, int rate);
    const model::Project& project() const noexcept { return *project_; }
    const std::vector<PlannedSound>& sounds() const noexcept { return sounds_; }
    const PlannedSound& at(int index) const noexcept { return sounds_[static_cast<std::size_t>(index)]; }
    /// The sound of that name, or -1. [rt]
    int sound_of(NameId name) const noexcept { return name < by_name_.size() ? by_name_[name] : -1; }
    /// The dial of that name, or -1. [rt]
    int dial_of(NameId name) const noexcept { return name < dial_by_name_.size() ? dial_by_name_[name] : -1; }
    /// The most layers of a sound, movers of a layer, own values of a sound.
    std::size_t most_layers() const noexcept { return most_layers_; }
    std::size_t most_movers() const noexcept { return most_movers_; }
    std::size_t most_own() const noexcept { return most_own_; }

  private:
    PlannedSound plan_sound(const model::Sound& sound, NameTable& names, int rate) const;

    std::shared_ptr<const model::Project> project_;
    std::vector<PlannedSound> sounds_;
    std::vector<int> by_name_, dial_by_name_;
    std::size_t most_layers_ = 1, most_movers_ = 0, most_own_ = 0;
};

} // namespace kiai::engine
