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

/// One statement. Plain values; made most shortly by the functions of `kiai::expect`.
struct Expectation {
    enum class Kind {
        heard,   ///< a sound comes above `audible` within a time of each such trigger; without one, at least once
        silent,  ///< nothing above `audible`, of a sound or of everything
        at_most, ///< plays of a sound, or of everything, at once
        fresh,   ///< a sound never plays the same take twice running
        level,   ///< the peak of each play of a sound lies between two levels
        ended,   ///< what sounds, of a sound or of everything, is over within a time of each such trigger
        refused, ///< each such trigger is refused by a rule
    };
    Kind kind = Kind::heard;
    std::string sound;              ///< empty: any, where the kind allows it
    std::string of;                 ///< the trigger, as `read_trigger` reads it
    std::string by;                 ///< refused: the rule: `hopper-stock > 0`, `gap`, `sound oak` …
    Seconds within = Seconds(0.02); ///< heard, ended
    Seconds from = Seconds(0);      ///< only what happens from here on …
    Seconds to = Seconds(0);        ///< … and before this counts; 0: to the end
    int plays = 0;                  ///< at_most
    Decibels low = -200, high = 0;  ///< level, dBFS
    std::string note = {};          ///< why it is expected, for who reads it
    int line = 0;                   ///< in its file, from 1; 0: it is from none
};
/// As it would be said: `hopper is heard within 20 ms of press hopper`.
std::string to_string(const Expectation& expectation);

/// How far it holds.
struct ExpectationResult {
    bool holds = false;
    std::string expected;    ///< as to_string(Expectation)
    std::string happened;    ///< the first thing that is otherwise, or in short how it holds
    Frames from = 0, to = 0; ///< where to look: the piece of the run that tells of it
    int line = 0;            ///< of the expectation

    explicit operator bool() const noexcept { return holds; }
};
/// `met: …` or `expected …; happened: …`. Test libraries print it where a check of it fails.
std::ostream& operator<<(std::ostream& out, const ExpectationResult& met);

/// Whether a run shows what is expected. What cannot be seen in it (a sound that the project does not have, a trigger
/// that did not come, a sound that did not play) does not hold. [control]
ExpectationResult meets(const Rehearsal& happened, const Expectation& expectation);

/// For tests: CHECK(meets(run, expect::heard("hopper", {.of = "press hopper", .within = 20ms})));
namespace expect {

struct Where {
    std::string of = {};
    Seconds within = Seconds(0.02);
    Seconds from = Seconds(0), to = Seconds(0);
};

Expectation heard(std::string sound, const Where& where = {});
/// Of everything where no sound is named.
Expectation silent(std::string sound, const Where& where = {});
Expectation at_most(int plays, std::string sound = {}, const Where& where = {});
Expectation fresh(std::string sound, const Where& where = {});
Expectation level(std::string sound, Decibels low, Decibels high, const Where& where = {});
Expectation ended(std::string sound, const Where& where);
Expectation refused(std::string trigger, std::string by, const Where& where = {});

} // namespace expect

struct LoadedExpectations {
    std::vector<Expectation> expectations;
    std::vector<Finding> findings; ///< one with an error is left out

    bool ok() const noexcept { return count(findings, Severity::error) == 0; }
};

/// Every key of a file of expectations, as keys.h describes those of kiai.toml. [any]
const std::vector<Key>& expectation_keys();

/// Reads a file of expectations, TOML; docs/expectations.md names every key. [control]
LoadedExpectations load_expectations(const std::filesystem::path& file);

/// Renders an engine that an app's own test drives, and keeps what comes of it.
class RunRecorder {
  public:
    /// Takes the engine's log and findings, and its levels, for which EngineSettings::record_levels is to be set. Made
    /// before anything was rendered; the engine outlives it. [control]
    explicit RunRecorder(Engine& engine);
    RunRecorder(const RunRecorder&) = delete;
    RunRecorder& operator=(const RunRecorder&) = delete;
    /// Renders so many frames, and polls. [control]
    void render(Frames frames);
    /// The same of a time. [control]
    void render(Seconds time) { render(static_cast<Frames>(time.count() * engine_.sample_rate())); }
    /// Everything so far. Of its samples the engine's latency is not taken off.
    const Rehearsal& seen() const noexcept { return seen_; }

  private:
    friend class workshop::Recorder;
    Engine& engine_;
    Rehearsal seen_;
};

} // namespace kiai::inline v0
