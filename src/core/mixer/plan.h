// A project as the render thread needs it: names as numbers, times as frames.
#pragma once

#include "core/dsp/kernels.h"
#include "core/mixer/lap.h"
#include "core/mixer/movers.h"
#include "core/mixer/planned_bus.h"
#include "core/model/chance.h"
#include "core/model/names.h"
#include "core/model/project.h"

#include <atomic>
#include <memory>
#include <vector>

namespace kiai::mixer {

/// A clip as a layer plays it.
struct PlannedTake {
    std::shared_ptr<const model::Audio> audio; ///< at the engine's rate, or as it came
    int written_rate = 0; ///< frames per second of its file, which a place that the project gives in frames counts
    Lap lap;
};

struct PlannedLayer {
    std::vector<PlannedTake> takes;
    /// The unconverted takes, if `takes` has converted ones: for plays whose options loop them.
    std::vector<PlannedTake> looped;
    std::vector<Mover> movers; ///< the sound's, then its own; empty: nothing moves it while it sounds
    bool bends = false;        ///< one of them moves its pitch
    bool toned = false;        ///< it has a filter

    const PlannedTake& take(int number, const PlayNumbers& numbers) const noexcept {
        const bool loops = numbers.turns != PlayNumbers::as_written && numbers.turns != 1;
        return (loops && !looped.empty() ? looped : takes)[static_cast<std::size_t>(number)];
    }
};

/// Seconds: a shorter fade-in is heard as a click.
constexpr double shortest_rise = 0.006;

struct PlannedSound {
    const model::Sound* sound = nullptr;
    model::NameId name = model::no_name;
    std::uint64_t hash = 0;
    Frames gap = 0;
    Frames fade_in = 0;
    Frames fade_out = 0;
    bool endless = false;
    bool awaited = false;                 ///< something is bound to its end
    std::vector<model::NameId> own_names; ///< of the values that a play of it may be given
    std::vector<PlannedLayer> layers;
};

/// Entries by the numbers of their names.
class ByName {
  public:
    void add(model::NameId name, int number) {
        if (numbers_.size() <= name) numbers_.resize(name + 1, -1);
        numbers_[name] = number;
    }
    /// Returns -1 if there is none. [rt]
    int of(model::NameId name) const noexcept { return name < numbers_.size() ? numbers_[name] : -1; }

  private:
    std::vector<int> numbers_;
};

class Plan {
  public:
    /// [control]
    Plan(std::shared_ptr<const model::Project> project, model::NameTable& names, int rate, const dsp::Kernels& kernels);
    const model::Project& project() const noexcept { return *project_; }
    const std::vector<PlannedSound>& sounds() const noexcept { return sounds_; }
    const PlannedSound& at(int index) const noexcept { return sounds_[static_cast<std::size_t>(index)]; }
    /// Return the entry with that name, or -1. [rt]
    int sound_of(model::NameId name) const noexcept { return sound_by_name_.of(name); }
    int dial_of(model::NameId name) const noexcept { return dial_by_name_.of(name); }
    int bus_of(model::NameId name) const noexcept { return bus_by_name_.of(name); }
    const PlannedBuses& buses() const noexcept { return buses_; }
    /// Returns the buses from one up to `main`. [rt]
    const std::vector<int>& path(int bus) const noexcept { return buses_.all[static_cast<std::size_t>(bus)].path; }
    /// Returns all actions by their numbers.
    const std::vector<const model::Action*>& actions() const noexcept { return actions_; }
    int rate() const noexcept { return rate_; }
    /// The users that keep the plan alive: `render`, and each voice that plays one of its clips. [any]
    std::atomic<int>& users() const noexcept { return users_; }
    /// The maximum of layers of a sound, of movers of a layer, and of own values of a sound.
    std::size_t most_layers() const noexcept { return most_layers_; }
    std::size_t most_movers() const noexcept { return most_movers_; }
    std::size_t most_own() const noexcept { return most_own_; }
    /// Returns true if a layer has a filter, or had one that current plays may still use.
    bool toned() const noexcept { return toned_; }
    /// Returns the bytes of the clips that were converted to the engine's rate, on top of the originals.
    std::size_t converted() const noexcept { return converted_bytes_; }
    /// [control] This plan replaces `before`.
    void come_after(const Plan& before) noexcept { toned_ = toned_ || before.toned_; }

  private:
    void convert_clips(const dsp::Kernels& kernels);
    PlannedSound plan_sound(const model::Sound& sound, model::NameTable& names, int rate) const;
    void add_actions(const std::vector<model::Action>& actions);
    void add_actions(const std::vector<model::Step>& steps);
    void add_action(const model::Action& action);

    std::shared_ptr<const model::Project> project_;
    std::vector<std::shared_ptr<const model::Audio>> converted_; ///< by the clips' numbers; null: as it came
    std::size_t converted_bytes_ = 0;
    PlannedBuses buses_;
    std::vector<PlannedSound> sounds_;
    int rate_;
    bool toned_ = false;
    ByName sound_by_name_, dial_by_name_, bus_by_name_;
    std::vector<const model::Action*> actions_;
    mutable std::atomic<int> users_{1}; ///< `render`, until it plays another
    std::size_t most_layers_ = 1, most_movers_ = 0, most_own_ = 0;
};

} // namespace kiai::mixer
