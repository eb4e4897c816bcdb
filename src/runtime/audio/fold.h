// More than two channels to stereo.
#pragma once

#include <vector>

namespace kiai::runtime {

/// What a channel of the file gives to the left and to the right.
struct FoldGain {
    float left = 0;
    float right = 0;
};

/// One gain pair per channel, by ITU-R BS.775-3, table 2: a side as it is, centre and surrounds at -3 dB, the low
/// frequency effects left out. `places` holds libsndfile's SF_CHANNEL_MAP_ value of each channel; empty: the usual
/// order of that count, which in Ogg is that of Vorbis (RFC 7845, section 5.1.1.2).
std::vector<FoldGain> fold_gains(int channels, const std::vector<int>& places, bool ogg);

} // namespace kiai::runtime
