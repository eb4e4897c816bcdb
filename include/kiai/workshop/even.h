// Matches the loudness of takes, or sets the loudness of a sound, by gains. Files do not change.
#pragma once

#include <kiai/units.h>
#include <kiai/workshop/check.h>

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace kiai::inline v0 {

struct EvenSettings { /// Loudness of the whole sound in LUFS, -70 … 0, by the gain of the sound. Without a value:
                      /// matches the takes of each
    /// layer to their median by the gains of the clips.
    std::optional<float> target = std::nullopt;
    bool write = false; ///< writes the gains into kiai.toml
};

/// The proposal for a clip, or for the sound.
struct GainProposal {
    std::string kind; ///< `clip` or `sound`
    std::string name;
    float loudness = 0;  ///< LUFS, with the present gain
    Decibels before = 0; ///< the gain that it has
    Decibels after = 0;  ///< the proposed gain, rounded to 0.1 dB
};

struct EvenResult {
    std::vector<GainProposal> gains; ///< all measured gains; `after` equals `before` if no change is needed
    EditResult edited;               ///< what was written, or why there is no proposal
};

/// Measures loudness by ITU-R BS.1770: of clips as they are played; of a sound over three plays or more of each take,
/// with its variation and buses. [control] Does I/O.
EvenResult even_sound(const std::filesystem::path& folder, const std::string& sound, const EvenSettings& settings = {});

} // namespace kiai::inline v0
