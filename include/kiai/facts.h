// The measured properties of an audio file.
#pragma once

#include <kiai/units.h>

#include <cstdint>
#include <string>
#include <vector>

namespace kiai::inline v0 {

/// A loop in a file: its first frame, and the first frame after it.
struct LoopPoints {
    Frames begin = 0;
    Frames end = 0;
};

/// The properties of one audio file. Levels are measured as Kiai plays the file: more than two channels are folded to
/// stereo.
struct Facts {
    static constexpr Decibels silent = -200; ///< the level of silence

    std::string format; ///< `WAV`, `Ogg`, …
    std::string coding; ///< `16-bit`, `32-bit float`, `A-law`, `Vorbis`, …
    int bits = 0;       ///< per sample; 0 if the coding has no such number
    int rate = 0;       ///< frames per second
    int channels = 0;   ///< of the file
    Frames frames = 0;  ///< present in the file
    /// The length that the file states: more than `frames` if the file is cut short, -1 if it is cut short by an
    /// unknown length, 0 if the file states none.
    Frames claimed = 0;
    std::uint64_t bytes = 0; ///< the file's size
    std::uint64_t hash = 0;  ///< of the file's bytes (XXH3, 64 bits)

    /// The frames that were measured: the whole file, or the first ten minutes (at 48 kHz) of a longer one.
    Frames measured = 0;
    Decibels peak = silent; ///< largest sample, dBFS; above 0 in a lossy or float file that is louder than full scale
    Decibels true_peak = silent; ///< dBTP (ITU-R BS.1770-4, annex 2)
    /// Integrated loudness, LUFS (EBU R 128). A mono clip counts on both sides, as it is played. A clip shorter than
    /// 400 ms, the minimum of the standard, is measured as a whole without a gate.
    float loudness = silent;
    Frames lead =
        0; ///< frames before the first audible one (above -60 dBFS, or 40 dB below the peak of a quieter file)
    Frames trail = 0;                 ///< frames after the last audible one
    float offset = 0;                 ///< DC: the mean of the channel that is farthest from 0; 1 is full scale
    int clipped = 0;                  ///< number of runs of three or more samples at full scale
    Frames first_clipped = 0;         ///< start of the first run
    Frames longest_clipped = 0;       ///< length of the longest run
    Decibels seam = silent;           ///< the step from the last frame to the first, dBFS
    std::vector<LoopPoints> loops;    ///< stored in the file (`smpl` of WAV, markers of AIFF)
    std::vector<Decibels> loop_seams; ///< the step at each of them

    double seconds() const noexcept { return rate > 0 ? static_cast<double>(frames) / rate : 0; }
};

} // namespace kiai::inline v0
