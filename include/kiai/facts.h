// What an audio file is, measured once.
#pragma once

#include <kiai/units.h>

#include <cstdint>
#include <string>
#include <vector>

namespace kiai::inline v0 {

/// Where a loop lies in a file: its first frame, and the first frame after it.
struct LoopPoints {
    Frames begin = 0;
    Frames end = 0;
};

/// The facts of one audio file. Levels are of the samples as Kiai plays them (more than two channels folded to stereo).
struct Facts {
    static constexpr Decibels silent = -200; ///< stands for a level of nothing at all

    std::string format; ///< of the file: `WAV`, `Ogg`, …
    std::string coding; ///< of its samples: `16-bit`, `32-bit float`, `A-law`, `Vorbis`, …
    int bits = 0;       ///< per sample; 0 where the coding has no such number
    int rate = 0;       ///< frames per second
    int channels = 0;   ///< in the file
    Frames frames = 0;  ///< that are really there
    /// That the file says it holds: more if it is cut short, -1 if it was cut off at an unknown place, 0 if it says
    /// nothing.
    Frames claimed = 0;
    std::uint64_t bytes = 0; ///< the file's size
    std::uint64_t hash = 0;  ///< of the file's bytes (XXH3, 64 bits)

    /// Frames from the beginning that all below is measured of: the whole file, or the first ten minutes at 48 kHz of a
    /// longer one.
    Frames measured = 0;
    Decibels peak = silent; ///< largest sample, dBFS; above 0 in a lossy or float file that is louder than full scale
    Decibels true_peak = silent; ///< dBTP (ITU-R BS.1770-4, annex 2)
    /// Integrated loudness, LUFS (EBU R 128). A mono clip counts on both sides, as it is played. A clip of less than
    /// 400 ms, the least that is defined, is taken as a whole and ungated.
    float loudness = silent;
    Frames lead =
        0; ///< frames before the first audible one (above -60 dBFS, or 40 dB below the peak of a quieter file)
    Frames trail = 0;                 ///< frames after the last audible one
    float offset = 0;                 ///< DC: the mean of the channel that is farthest from 0; 1 is full scale
    int clipped = 0;                  ///< runs of three or more samples at full scale
    Frames first_clipped = 0;         ///< where the first of them begins
    Frames longest_clipped = 0;       ///< frames in the longest
    Decibels seam = silent;           ///< the step that is heard when the end is followed by the beginning, dBFS
    std::vector<LoopPoints> loops;    ///< that the file itself holds (`smpl` of WAV, markers of AIFF)
    std::vector<Decibels> loop_seams; ///< the step at each of them

    double seconds() const noexcept { return rate > 0 ? static_cast<double>(frames) / rate : 0; }
};

} // namespace kiai::inline v0
