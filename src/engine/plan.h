// A project as the render thread needs it: names as numbers, times as frames.
#pragma once

#include "engine/chance.h"
#include "engine/names.h"
#include "model/project.h"

#include <memory>
#include <vector>

namespace kiai::engine {

struct PlannedSound {
    const model::Sound* sound = nullptr;
    NameId name = no_name;
    std::uint64_t hash = 0;
    Frames gap = 0;
    Frames fade_in = 0;
    Frames fade_out = 0;
};

class Plan {
  public:
    /// [control]
    Plan(std::shared_ptr<const model::Project> project, NameTable& names, int rate) : project_(std::move(project)) {
        for (const model::Sound& sound : project_->sounds) {
            const NameId name = names.add(sound.name);
            sounds_.push_back({&sound, name, hash(sound.name), sound.limit.gap.frames(rate), sound.fade_in.frames(rate),
                               sound.fade_out.frames(rate)});
            if (by_name_.size() <= name) by_name_.resize(name + 1, -1);
            by_name_[name] = static_cast<int>(sounds_.size()) - 1;
        }
    }
    const model::Project& project() const noexcept { return *project_; }
    const std::vector<PlannedSound>& sounds() const noexcept { return sounds_; }
    const PlannedSound& at(int index) const noexcept { return sounds_[static_cast<std::size_t>(index)]; }
    /// The sound of that name, or -1. [rt]
    int sound_of(NameId name) const noexcept { return name < by_name_.size() ? by_name_[name] : -1; }

  private:
    std::shared_ptr<const model::Project> project_;
    std::vector<PlannedSound> sounds_;
    std::vector<int> by_name_;
};

} // namespace kiai::engine
