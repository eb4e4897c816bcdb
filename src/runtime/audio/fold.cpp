#include "runtime/audio/fold.h"

#include <sndfile.h>

#include <algorithm>
#include <cstddef>

namespace kiai::runtime {
namespace {

constexpr int left = SF_CHANNEL_MAP_LEFT, right = SF_CHANNEL_MAP_RIGHT, centre = SF_CHANNEL_MAP_CENTER,
              low = SF_CHANNEL_MAP_LFE, back_left = SF_CHANNEL_MAP_REAR_LEFT, back_right = SF_CHANNEL_MAP_REAR_RIGHT,
              back = SF_CHANNEL_MAP_REAR_CENTER, side_left = SF_CHANNEL_MAP_SIDE_LEFT,
              side_right = SF_CHANNEL_MAP_SIDE_RIGHT;

/// Indexed by the count, from 3 on; in the order of WAVE_FORMAT_EXTENSIBLE, which FLAC also uses.
constexpr int wave_places[][8] = {{left, right, centre},
                                  {left, right, back_left, back_right},
                                  {left, right, centre, back_left, back_right},
                                  {left, right, centre, low, back_left, back_right},
                                  {left, right, centre, low, back, side_left, side_right},
                                  {left, right, centre, low, back_left, back_right, side_left, side_right}};
constexpr int ogg_places[][8] = {{left, centre, right},
                                 {left, right, back_left, back_right},
                                 {left, centre, right, back_left, back_right},
                                 {left, centre, right, back_left, back_right, low},
                                 {left, centre, right, side_left, side_right, back, low},
                                 {left, centre, right, side_left, side_right, back_left, back_right, low}};

FoldGain gain_of(int place) {
    constexpr float half = 0.70710678f; // -3 dB
    switch (place) {
    case SF_CHANNEL_MAP_LEFT:
    case SF_CHANNEL_MAP_FRONT_LEFT:
        return {1, 0};
    case SF_CHANNEL_MAP_RIGHT:
    case SF_CHANNEL_MAP_FRONT_RIGHT:
        return {0, 1};
    case SF_CHANNEL_MAP_CENTER:
    case SF_CHANNEL_MAP_FRONT_CENTER:
    case SF_CHANNEL_MAP_MONO:
        return {half, half};
    case SF_CHANNEL_MAP_LFE:
        return {0, 0};
    case SF_CHANNEL_MAP_REAR_LEFT:
    case SF_CHANNEL_MAP_SIDE_LEFT:
    case SF_CHANNEL_MAP_FRONT_LEFT_OF_CENTER:
        return {half, 0};
    case SF_CHANNEL_MAP_REAR_RIGHT:
    case SF_CHANNEL_MAP_SIDE_RIGHT:
    case SF_CHANNEL_MAP_FRONT_RIGHT_OF_CENTER:
        return {0, half};
    default: // behind or above: on both sides, as loud as one surround in all
        return {0.5f, 0.5f};
    }
}

} // namespace

std::vector<FoldGain> fold_gains(int channels, const std::vector<int>& places, bool ogg) {
    const auto which = static_cast<std::size_t>(std::clamp(channels, 3, 8) - 3);
    const int* usual = ogg ? ogg_places[which] : wave_places[which];
    std::vector<FoldGain> gains;
    for (std::size_t c = 0; c < static_cast<std::size_t>(std::clamp(channels, 3, 8)); ++c)
        if (c < places.size() || places.empty()) gains.push_back(gain_of(places.empty() ? usual[c] : places[c]));
    gains.resize(static_cast<std::size_t>(channels));
    return gains;
}

} // namespace kiai::runtime
