// The contents of kiai.toml as plain values. Names are resolved to indices into the vectors of Project.
#pragma once

#include "core/dsp/curve.h"
#include "core/dsp/cutoffs.h"
#include "core/model/audio.h"
#include "core/model/binding.h"
#include "core/model/zone.h"

#include <kiai/facts.h>
#include <kiai/finding.h>
#include <kiai/report.h>

#include <algorithm>
#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace kiai::model {

/// The author of a clip, and the licence under which it may be used.
struct Credit {
    std::string author, licence, origin, note;
};

/// The format of a clip in a pack.
enum class Packed : std::uint8_t { as_it_is, wav, flac, ogg };

struct Clip {
    std::string name;
    std::string file;                   ///< relative to the project, as written
    double gain = 0;                    ///< dB
    Credit credit;                      ///< its own, completed by that of the nearest folder
    std::shared_ptr<const Audio> audio; ///< null only in a project that was read to be looked at
    std::shared_ptr<const Facts> facts; ///< null only in a project that was loaded to be played
    Source source;
    std::string stamp; ///< of its file when it was decoded: which, how long, changed when; empty: not known

    /// Returns the bytes of the samples in memory.
    std::size_t bytes() const noexcept { return audio ? audio->bytes() : 0; }
    bool streams = false;         ///< it is read from its file while it plays
    bool own_rate = false;        ///< it is played from its samples as they came, never converted to the engine's rate
    std::optional<Packed> packed; ///< if kiai.toml says so
    bool left_out = false;        ///< it was not asked for, see LoadOptions::scopes: neither samples nor facts
    bool streamed() const noexcept { return audio && audio->stream; }
    std::int64_t frames() const noexcept { return audio ? audio->frames : facts->frames; }
    int rate() const noexcept { return audio ? audio->rate : facts->rate; }
    const std::vector<LoopPoints>& loops() const noexcept { return audio ? audio->loops : facts->loops; }
};

/// A finding that the project accepts, with its reason.
struct Acceptance {
    std::string code;
    std::string on; ///< the entry's name; empty: wherever it is found
    std::string reason;
    Source source;
};

/// From-to; both 0: no variation.
struct Spread {
    double from = 0;
    double to = 0;
    bool operator==(const Spread&) const = default;
};

/// The random variation per play.
struct Vary {
    Spread pitch; ///< semitones
    Spread gain;  ///< dB
    Spread pan;
    Spread start;      ///< seconds of the clip
    Spread delay;      ///< seconds
    bool bell = false; ///< the mean of three even draws, so the middle comes most often; else even
    bool operator==(const Vary&) const = default;
};

/// How the take of a play is picked.
enum class Pick : std::uint8_t {
    shuffle,  ///< each once a round, never the same twice in a row
    weighted, ///< by weight, independently each time
    cycle,    ///< in order
};

enum class FollowTarget : std::uint8_t { gain, pitch, pan, low_pass, high_pass, balance, depth, rate };

/// Maps a value through a curve to a gain (dB), pitch (semitones), pan, the cutoff of a filter (octaves above 1 Hz) or
/// the balance of a sound's layers, or to the depth and rate (Hz) of an LFO.
struct Follow {
    Value value = Value::strength;
    int dial = 0;    ///< value dial: which
    std::string own; ///< value own: its name
    FollowTarget target = FollowTarget::gain;
    dsp::Curve curve;
    Duration smooth{0.02, false}; ///< after it nine tenths of a step are done; dials and own values only
    bool operator==(const Follow&) const = default;
};

/// A periodic change of gain (dB), pitch (semitones) or pan.
struct Lfo {
    enum class Shape : std::uint8_t { sine, triangle, square, random };
    Shape shape = Shape::sine;
    FollowTarget target = FollowTarget::pitch;
    double rate = 1;             ///< Hz
    double depth = 0;            ///< to either side
    bool free = false;           ///< counts from the engine's start, else from the play's
    std::vector<Follow> follows; ///< of its depth and rate
    bool moves_rate() const noexcept {
        return std::any_of(follows.begin(), follows.end(),
                           [](const Follow& follow) { return follow.target == FollowTarget::rate; });
    }
    bool operator==(const Lfo&) const = default;
};

/// The part of a clip that is repeated.
struct Loop {
    bool on = false;
    bool points = false; ///< the loop that the clip's file has itself
    Duration from, to;   ///< `to` 0: the clip's end
    int count = 0;       ///< turns; 0: until it is ended
    Duration crossfade;  ///< how long its end is mixed into its beginning
    bool tail = false;   ///< a stop lets it finish its turn and then plays what follows, without a fade
    bool operator==(const Loop&) const = default;
};

struct Layer {
    std::string label;           ///< empty: it has none
    std::vector<int> takes;      ///< clips; at least one
    std::vector<double> weights; ///< one per take
    Pick pick = Pick::shuffle;
    bool repeats = true; ///< weighted: a take may be the one before
    bool series = false; ///< its takes are found by their numbers
    double gain = 0;     ///< dB
    double pitch = 0;    ///< semitones
    double pan = 0;
    dsp::Cutoffs cutoffs;
    Duration start;    ///< where in the clip it begins
    Duration delay;    ///< after the play's begin
    double chance = 1; ///< of being heard in a play
    Vary vary;
    std::vector<Follow> follows;
    std::vector<Lfo> lfos;
    Loop loop;
    bool operator==(const Layer&) const = default;
};

using Full = WhenFull;

struct Limit {
    int plays = 8; ///< 0: any number
    Duration gap;
    Full full = Full::end_oldest;
    bool operator==(const Limit&) const = default;
};

/// Lowers a bus while another bus sounds.
struct Duck {
    int under = 0;   ///< the bus that has to sound
    double gain = 0; ///< dB, below 0
    Duration attack{0.05, false}, release{0.4, false};
    bool operator==(const Duck&) const = default;
};

/// A mixing group. Each bus except `main` has a parent.
struct Bus {
    std::string name;
    int into = -1; ///< `main`: -1
    double gain = 0;
    Limit limit{0, {}, Full::end_oldest};
    Source source;
    std::vector<Duck> ducks;
    dsp::Cutoffs cutoffs;
    std::vector<Follow> follows; ///< of dials, with a filter as their target
    bool gone = false;           ///< see align.h
    bool operator==(const Bus&) const = default;
};

/// A number that the app sets and that sounds follow.
struct Dial {
    std::string name;
    double start = 0;
    bool starts = false; ///< `start` is written; otherwise its value is unknown until the app sets it
    double low = 0, high = 1;
    Source source;
    bool gone = false; ///< see align.h
};

struct Sound {
    std::string name;
    std::vector<Layer> layers; ///< at least one, but of a pending one
    Vary vary;                 ///< of all layers alike
    double gain = 0;           ///< dB
    double pitch = 0;          ///< semitones
    double pan = 0;
    std::vector<Follow> follows; ///< of all layers alike
    std::vector<Lfo> lfos;       ///< the same way
    int bus = 0;
    int priority = 0; ///< -100 … 100; a play is never stolen for one of lower priority
    Duration fade_in;
    Duration fade_out{0.01, false};
    FadeCurve fade_in_curve = FadeCurve::equal_gain, fade_out_curve = FadeCurve::equal_gain;
    Limit limit;
    bool outlives = false; ///< continues where the scope is left that it belongs to
    /// Returns true if the sound does not end by itself.
    bool endless() const noexcept {
        return std::any_of(layers.begin(), layers.end(),
                           [](const Layer& layer) { return layer.loop.on && layer.loop.count == 0; });
    }
    bool pending = false; ///< declared, and there is nothing to play yet
    bool unready = false; ///< its clips were left out, and its layers with them
    bool variant = false; ///< NAME:VARIANT of another sound; nothing in kiai.toml names it
    bool implied = false; ///< made for a clip that no sound of the same name hides
    Source source;
    bool gone = false; ///< see align.h
    bool operator==(const Sound&) const = default;
};

/// A name that is declared so that it can be used before there is anything to play.
struct Pending {
    std::string kind; ///< `clip` or `sound`
    std::string name;
    Source source;
};

/// A sound that is excluded because of an error.
struct LeftOut {
    std::string name;
    std::vector<std::string> clips; ///< that it takes
    Source source;
};

struct Project {
    std::string name;
    std::string fingerprint; ///< of its state, see kiai::Project
    std::string file;        ///< its kiai.toml, as findings call it
    std::vector<Pending> pending;
    std::vector<Clip> clips;
    std::vector<Sound> sounds; ///< the ones in the file, then the implied ones
    std::vector<Bus> buses{{"main", -1, 0, {0, {}, Full::end_oldest}, {}, {}, {}, {}}}; ///< the first is `main`
    std::vector<Dial> dials;
    std::vector<Zone> zones;
    std::vector<Scope> scopes;
    std::vector<Motion> motions;
    std::vector<Sequence> sequences;
    std::vector<Binding> bindings;
    std::vector<Acceptance> accepted;
    std::vector<LeftOut> left_out;
    std::vector<Finding> findings; ///< of reading it
};

} // namespace kiai::model
