// Evening out loudness: the takes of a sound to each other, or a sound to a target. Files are never touched.
#pragma once

#include <kiai/units.h>
#include <kiai/workshop/check.h>

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace kiai::inline v0 {

struct EvenSettings {
    /// Bring the whole sound to this loudness (LUFS, -70 … 0) by its own gain; without it the takes of each of its
    /// layers are brought to the middle one by their clips' gains.
    std::optional<float> target = std::nullopt;
    bool write = false; ///< into kiai.toml; else it is only proposed
};

/// What is proposed for one clip, or for the sound.
struct GainProposal {
    std::string kind; ///< `clip` or `sound`
    std::string name;
    float loudness = 0;  ///< LUFS, with the gain that it has
    Decibels before = 0; ///< the gain that it has
    Decibels after = 0;  ///< the gain that is proposed, to a tenth of a dB
};

struct EvenResult {
    std::vector<GainProposal> gains; ///< all that were looked at; `after` is `before` where nothing is to be done
    EditResult edited;               ///< what was written, or why nothing can be proposed
};

/// Measures by ITU-R BS.1770: clips as they are played, a sound by hearing it play each take three times or more with
/// its variation and its buses. [control] Does I/O.
EvenResult even_sound(const std::filesystem::path& folder, const std::string& sound, const EvenSettings& settings = {});

} // namespace kiai::inline v0
