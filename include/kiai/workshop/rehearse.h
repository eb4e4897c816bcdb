// Sound without a device: a trace run through a project, or one sound heard several times.
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

/// How loud a bus was at most in a run: the largest values of its BusLevel.
struct BusPeaks {
    std::string bus;
    BusLevel level;
};

/// What came of it.
struct Rehearsal {
    int sample_rate = 48000;
    std::uint64_t seed = 0;
    Frames length = 0;                ///< frames, from the first to when the last line has passed and all has ended
    std::vector<float> samples;       ///< length x 2, interleaved left and right; the engine's latency is taken off
    std::vector<Decision> decisions;  ///< in order
    std::vector<PlayLevel> levels;    ///< in order of frames for each layer of each play
    std::vector<BusPeaks> buses;      ///< in the order of kiai.toml, `main` first; of a log: none
    std::vector<Finding> findings;    ///< what was doubtful about it, see Engine::set_findings
    std::vector<std::string> sounds;  ///< that the project has; empty where that is not known, as of a log
    std::vector<std::string> endless; ///< sounds that did not end by themselves and were faded out
};

struct RehearseSettings {
    std::optional<std::uint64_t> seed = std::nullopt; ///< default: the trace's, else 1
    int block = 512;           ///< frames per call of render, 1 … 65536; the result is the same at any
    Seconds tail = Seconds(2); ///< how long what would sound for ever goes on after the last line
    bool portable_kernels = false;
};

/// Runs a trace through a project. The same build, processor kind, project, trace and seed give the same result, bit
/// for bit. [control]
Rehearsal rehearse(const Project& project, const Trace& trace, const RehearseSettings& settings = {});

struct HearSettings {
    int times = 1; ///< 1 … 10000
    std::uint64_t seed = 1;
    int sample_rate = 48000;
    PlayOptions options;
    Seconds gap = Seconds(0.1);               ///< silence between the end of one play and the next
    Seconds loop = Seconds(2);                ///< how long a sound without an end is heard
    std::map<std::string, float> dials = {};  ///< what they are while it is heard
    std::map<std::string, float> values = {}; ///< of each play
};

/// Plays one sound several times, one after the other. An unknown name gives a decision that says so, and no samples.
/// [control]
Rehearsal hear(const Project& project, const std::string& sound, const HearSettings& settings = {});

/// Two sounds after one another, as loud as each other.
struct Comparison {
    Rehearsal rehearsal;          ///< the first as often as it is asked for, then the second
    float loudness[2] = {0, 0};   ///< LUFS, of each by itself
    Decibels lowered[2] = {0, 0}; ///< what the louder of them was lowered by
};

/// As `hear`, of two sounds. [control]
Comparison compare(const Project& project, const std::string& first, const std::string& second,
                   const HearSettings& settings = {});

/// Writes the decisions as JSON Lines, one object each; docs/log.md names every field. [control]
void write_log(std::ostream& out, const Rehearsal& rehearsal);

/// A log that was read again: everything but samples and levels.
struct LoadedLog {
    Rehearsal rehearsal;
    std::vector<Finding> findings; ///< a line that holds no decision is left out

    bool ok() const noexcept { return count(findings, Severity::error) == 0; }
};

/// Reads what `write_log` or `jsonl_log` has written. Its first line tells the rate; no line tells the
/// seed. [control]
LoadedLog load_log(const std::filesystem::path& file);

/// The numbers of the bindings that a log tells of. [control]
std::set<int> bindings_in_log(std::istream& log);

/// Writes samples (interleaved stereo) as a WAV file of 32-bit floats, or of 16 or 24 bits with a dither of triangular
/// distribution, two steps wide, the same for the same samples. Empty, or why it could not be written. [control]
std::string write_wav(const std::filesystem::path& file, const std::vector<float>& samples, int sample_rate,
                      int bits = 32);

} // namespace kiai::inline v0
