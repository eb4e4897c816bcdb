// Trims, levels and converts clips into files that the project then uses.
#pragma once

#include <kiai/facts.h>
#include <kiai/workshop/check.h>

#include <cstdint>
#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace kiai::inline v0 {

/// The format of a converted file. `keep`: that of the source if Kiai can write it, otherwise WAV.
enum class AudioFormat { keep = 0, wav = 1, flac = 2, ogg = 3, opus = 4, mp3 = 5 };

struct ConvertOptions {
    AudioFormat format = AudioFormat::keep;
    int bits = 0;                       ///< of WAV and FLAC: 16 or 24; 0: 16 for sources of up to 16 bits, otherwise 24
    double quality = 0.6;               ///< of Ogg Vorbis, Opus and MP3, 0 (small) … 1 (best)
    bool trim = false;                  ///< removes silence at both ends: what is below Facts::lead and Facts::trail
    Seconds fade = Seconds(0.005);      ///< of a trimmed end, 0 … 1 s; kept from the silence, and faded out
    std::optional<Decibels> peak = {};  ///< sets the largest sample, dBFS, -60 … 0
    std::optional<float> loudness = {}; ///< sets the loudness, LUFS, -60 … 0, but no true peak above -1 dBTP
    bool dry_run = false;               ///< measures, and writes nothing
};

/// What became of one clip.
struct ConvertedClip {
    std::string name;
    std::string file_before, file;     ///< relative to the project
    Facts before, after;               ///< `after.bytes` is the size of the new file
    Decibels gain = 0;                 ///< that was applied
    Frames cut_start = 0, cut_end = 0; ///< removed frames, at the rate of the source
    /// Level of the difference between the samples that were meant and those of the new file, dBFS: what the format
    /// lost. -200: no loss.
    Decibels residue = Facts::silent;
    std::string remark;   ///< such as why the loudness was not reached
    std::string why, fix; ///< why the clip was refused; empty: it was converted
    bool ok() const noexcept { return why.empty(); }
};

struct ConvertResult {
    std::vector<ConvertedClip> clips; ///< in the order of kiai.toml
    EditResult edited;                ///< the changes of kiai.toml, and errors about all of it
    bool ok() const noexcept;
};

/// Converts clips: by name, all takes of a sound, all clips whose name matches a pattern (`oak-*`), or all clips in a
/// folder of the project. The old file is moved to `originals/`, below its folder's path; a file that is there already
/// stays. Credits and the other keys of the clip stay. kiai.toml names the new file. Everything is written whole or not
/// at all.
/// Refused, each with a reason: a clip without a file, with more than two channels, or with loop points in its file; a
/// trimmed clip for which a sound has `start` or loop points; a new file that exists and belongs to no clip. [control]
ConvertResult convert_clips(const std::filesystem::path& folder, const std::vector<std::string>& names,
                            const ConvertOptions& options);

} // namespace kiai::inline v0
