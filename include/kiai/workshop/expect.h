// What a run of an app must show: statements, and how far they hold.
#pragma once

#include <kiai/finding.h>
#include <kiai/keys.h>
#include <kiai/workshop/rehearse.h>
#include <kiai/workshop/trigger.h>

#include <filesystem>
#include <iosfwd>
#include <string>
#include <vector>

namespace kiai::workshop {
class Recorder;
}

namespace kiai::inline v0 {

/// A statement about a run. A plain value; the functions in `kiai::expect` make one.
struct Expectation {
    enum class Kind {
        heard,   ///< a sound is above `audible` within a time after each such trigger; without a trigger, at least once
        silent,  ///< nothing above `audible`, of a sound or of everything
        at_most, ///< a maximum of plays at once, of a sound or of everything
        fresh,   ///< a sound never plays the same take twice in a row
        level,   ///< the peak of each play of a sound is between two levels
        ended,   ///< plays of a sound, or all plays, end within a time after each such trigger
        refused, ///< each such trigger is refused by a rule
    };
    Kind kind = Kind::heard;
    std::string sound;              ///< empty: any sound, if the kind allows it
    std::string of;                 ///< the trigger, as `read_trigger` reads it
    std::string by;                 ///< refused: the rule: `hopper-stock > 0`, `gap`, `sound oak` …
    Seconds within = Seconds(0.02); ///< heard, ended
    Seconds from = Seconds(0);      ///< counts only what happens from here …
    Seconds to = Seconds(0);        ///< … to here; 0: to the end
    int plays = 0;                  ///< at_most
    Decibels low = -200, high = 0;  ///< level, dBFS
    std::string note = {};          ///< why it is expected
    int line = 0;                   ///< line of the file, from 1; 0: no file
};
/// Returns the expectation as a sentence: `hopper is heard within 20 ms of press hopper`.
std::string to_string(const Expectation& expectation);

/// The result of checking an expectation.
struct ExpectationResult {
    bool holds = false;
    std::string expected;    ///< see to_string(Expectation)
    std::string happened;    ///< the first difference, or a summary
    Frames from = 0, to = 0; ///< the part of the run that shows it
    int line = 0;            ///< of the expectation

    explicit operator bool() const noexcept { return holds; }
};
/// Writes `met: …` or `expected …; happened: …`. Test libraries print it if a check fails.
std::ostream& operator<<(std::ostream& out, const ExpectationResult& met);

/// Checks a run against an expectation. An expectation that the run cannot show does not hold: about an unknown sound,
/// a trigger that did not happen, or a sound that did not play. [control]
ExpectationResult meets(const Rehearsal& happened, const Expectation& expectation);

/// Make expectations: `CHECK(meets(run, expect::heard("hopper", {.of = "press hopper", .within = 20ms})));`
namespace expect {

struct Where {
    std::string of = {};
    Seconds within = Seconds(0.02);
    Seconds from = Seconds(0), to = Seconds(0);
};

Expectation heard(std::string sound, const Where& where = {});
/// An empty name means everything.
Expectation silent(std::string sound, const Where& where = {});
Expectation at_most(int plays, std::string sound = {}, const Where& where = {});
Expectation fresh(std::string sound, const Where& where = {});
Expectation level(std::string sound, Decibels low, Decibels high, const Where& where = {});
Expectation ended(std::string sound, const Where& where);
Expectation refused(std::string trigger, std::string by, const Where& where = {});

} // namespace expect

struct LoadedExpectations {
    std::vector<Expectation> expectations;
    std::vector<Finding> findings; ///< an expectation with an error is ignored

    bool ok() const noexcept { return count(findings, Severity::error) == 0; }
};

/// Returns every key of an expectations file; see keys.h. [any]
const std::vector<Key>& expectation_keys();

/// Reads an expectations file (TOML); docs/expectations.md describes every key. [control]
LoadedExpectations load_expectations(const std::filesystem::path& file);

/// Renders an engine in a test of an app, and records the run.
class RunRecorder {
  public:
    /// Receives the log, the findings and the levels of the engine; levels need EngineSettings::record_levels.
    /// Construct it before the first `render`. The engine must outlive it. [control]
    explicit RunRecorder(Engine& engine);
    RunRecorder(const RunRecorder&) = delete;
    RunRecorder& operator=(const RunRecorder&) = delete;

    /// Renders frames, and polls. [control]
    void render(Frames frames);
    /// Renders for a time, and polls. [control]
    void render(Seconds time) { render(static_cast<Frames>(time.count() * engine_.sample_rate())); }

    /// Returns the run so far. Its samples include the latency of the engine.
    const Rehearsal& seen() const noexcept { return seen_; }

  private:
    friend class workshop::Recorder;
    Engine& engine_;
    Rehearsal seen_;
    bool keeps_samples_ = true;
};

} // namespace kiai::inline v0
