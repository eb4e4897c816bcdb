// Mixes more than two channels to stereo.
#pragma once

#include <vector>

namespace kiai::runtime {

/// The gains of a channel to the left and to the right.
struct FoldGain {
    float left = 0;
    float right = 0;
};

/// Returns one gain pair per channel, by ITU-R BS.775-3, table 2: sides unchanged, centre and surrounds at -3 dB, no
/// low frequency effects. `places` contains libsndfile's SF_CHANNEL_MAP_ value of each channel; empty: the usual order
/// for that count, which in Ogg is that of Vorbis (RFC 7845, section 5.1.1.2).
std::vector<FoldGain> fold_gains(int channels, const std::vector<int>& places, bool ogg);

} // namespace kiai::runtime
