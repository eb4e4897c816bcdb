// Renders without a device: replays a trace, or plays one sound several times.
#pragma once

#include <kiai/engine.h>
#include <kiai/finding.h>
#include <kiai/workshop/trace.h>

#include <filesystem>
#include <iosfwd>
#include <map>
#include <set>
#include <string>
#include <vector>

namespace kiai::inline v0 {

/// The largest levels of a bus in a run.
struct BusPeaks {
    std::string bus;
    BusLevel level;
};

/// The result of a rehearsal.
struct Rehearsal {
    int sample_rate = 48000;
    std::uint64_t seed = 0;
    Frames length = 0;                ///< frames, until the last line has passed and every play has ended
    std::vector<float> samples;       ///< length x 2, interleaved left and right, without the latency of the engine
    std::vector<Decision> decisions;  ///< in order
    std::vector<PlayLevel> levels;    ///< by frame, for each layer of each play
    std::vector<BusPeaks> buses;      ///< in the order of kiai.toml, `main` first; empty for a log
    std::vector<Finding> findings;    ///< see Engine::set_findings
    std::vector<std::string> sounds;  ///< of the project; empty for a log
    std::vector<std::string> endless; ///< endless sounds, which were faded out
};

struct RehearseSettings {
    std::optional<std::uint64_t> seed = std::nullopt; ///< default: that of the trace, or 1
    int block = 512;           ///< frames per call of render, 1 … 65536; does not change the result
    Seconds tail = Seconds(2); ///< how long endless plays continue after the last line
    bool portable_kernels = false;
};

/// Replays a trace (offline render). The same build, kind of processor, project, trace and seed give the same result,
/// bit for bit. [control]
Rehearsal rehearse(const Project& project, const Trace& trace, const RehearseSettings& settings = {});

struct HearSettings {
    int times = 1; ///< 1 … 10000
    std::uint64_t seed = 1;
    int sample_rate = 48000;
    PlayOptions options;
    Seconds gap = Seconds(0.1);               ///< silence between the end of one play and the next
    Seconds loop = Seconds(2);                ///< how long an endless sound plays
    std::map<std::string, float> dials = {};  ///< values of dials
    std::map<std::string, float> values = {}; ///< of each play
};

/// Plays a sound several times, one play after the other. An unknown name gives an `unknown-name` decision and no
/// samples. [control]
Rehearsal hear(const Project& project, const std::string& sound, const HearSettings& settings = {});

/// Two sounds, one after the other, at the same loudness.
struct Comparison {
    Rehearsal rehearsal;          ///< the plays of the first, then those of the second
    float loudness[2] = {0, 0};   ///< LUFS of each
    Decibels lowered[2] = {0, 0}; ///< how much the louder one was lowered
};

/// Plays two sounds as `hear` does. [control]
Comparison compare(const Project& project, const std::string& first, const std::string& second,
                   const HearSettings& settings = {});

/// Writes the decisions as JSON Lines; docs/log.md describes every field. [control]
void write_log(std::ostream& out, const Rehearsal& rehearsal);

/// A log that was read: a rehearsal without samples and levels.
struct LoadedLog {
    Rehearsal rehearsal;
    std::vector<Finding> findings; ///< lines that are not decisions are ignored

    bool ok() const noexcept { return count(findings, Severity::error) == 0; }
};

/// Reads a log of `write_log` or `jsonl_log`. The first line contains the rate; the seed is not stored. [control]
LoadedLog load_log(const std::filesystem::path& file);

/// Returns the numbers of the bindings in a log. [control]
std::set<int> bindings_in_log(std::istream& log);

/// Writes interleaved stereo samples as a WAV file: 32-bit float, or 16 or 24 bits with triangular dither, which is the
/// same for the same samples. Returns an empty text, or the error. [control]
std::string write_wav(const std::filesystem::path& file, const std::vector<float>& samples, int sample_rate,
                      int bits = 32);

} // namespace kiai::inline v0
