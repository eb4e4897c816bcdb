// What a kiai.toml says, as plain values. Names are resolved to indices into the vectors of Project.
#pragma once

#include "model/audio.h"

#include <kiai/facts.h>
#include <kiai/report.h>

#include <cstdint>
#include <memory>
#include <string>
#include <utility>
#include <vector>

namespace kiai::model {

/// Where in kiai.toml something stands; from 1.
struct Source {
    int line = 0;
    int column = 0;
};

/// A length of time, as the file gives it.
struct Duration {
    double value = 0;
    bool in_frames = false; ///< else in seconds

    std::int64_t frames(int rate) const noexcept {
        return static_cast<std::int64_t>(in_frames ? value : value * rate + 0.5);
    }
};

/// Who made a clip, and under which licence it may be used.
struct Credit {
    std::string author, licence, origin, note;
};

struct Clip {
    std::string name;
    std::string file;                   ///< relative to the project, as written
    double gain = 0;                    ///< dB
    Credit credit;                      ///< its own, completed by that of the nearest folder
    std::shared_ptr<const Audio> audio; ///< null only in a project that was read to be looked at
    std::shared_ptr<const Facts> facts; ///< null only in a project that was loaded to be played
    Source source;
};

/// A finding that the project accepts, with its reason.
struct Acceptance {
    std::string code;
    std::string on; ///< the entry's name; empty: wherever it is found
    std::string reason;
    Source source;
};

/// From-to; both 0: off.
struct Spread {
    double from = 0;
    double to = 0;
};

/// What is drawn anew for each play.
struct Vary {
    Spread pitch; ///< semitones
    Spread gain;  ///< dB
    Spread pan;
    Spread start;      ///< seconds of the clip
    Spread delay;      ///< seconds
    bool bell = false; ///< the mean of three even draws, so the middle comes most often; else even
};

/// How the take of a play is picked.
enum class Pick : std::uint8_t {
    shuffle,  ///< each once a round, never the same twice running
    weighted, ///< by weight, each time anew
    cycle,    ///< in order
};

enum class Value : std::uint8_t { strength, place };
enum class Moves : std::uint8_t { gain, pitch, pan };

/// A value of the trigger, through a curve of straight pieces that holds its end values, moves a gain (dB), pitch
/// (semitones) or pan.
struct Follow {
    Value value = Value::strength;
    Moves moves = Moves::gain;
    std::vector<std::pair<double, double>> curve; ///< two or more, x ascending
};

struct Layer {
    std::vector<int> takes;      ///< clips; at least one
    std::vector<double> weights; ///< one per take
    Pick pick = Pick::shuffle;
    double gain = 0;  ///< dB
    double pitch = 0; ///< semitones
    double pan = 0;
    Duration start;    ///< where in the clip it begins
    Duration delay;    ///< after the play's begin
    double chance = 1; ///< of being heard in a play
    Vary vary;
    std::vector<Follow> follows;
};

/// What happens when a sound has as many plays as it may.
enum class Full : std::uint8_t { end_oldest, refuse };

struct Limit {
    int plays = 8;
    Duration gap;
    Full full = Full::end_oldest;
};

struct Sound {
    std::string name;
    std::vector<Layer> layers; ///< at least one
    Vary vary;                 ///< of all layers alike
    double gain = 0;           ///< dB
    double pitch = 0;          ///< semitones
    double pan = 0;
    bool endless = false; ///< `loop`: begins again whenever its clip ends
    Duration fade_in;
    Duration fade_out{0.01, false};
    Limit limit;
    bool implied = false; ///< made for a clip that no sound of the same name hides
    Source source;
};

struct Circle {
    double x = 0, y = 0, r = 0;
};
struct Rectangle {
    double x = 0, y = 0, width = 0, height = 0;
};

struct Zone {
    std::string name;
    bool round = false; ///< a circle, else a rectangle
    Circle circle;
    Rectangle rectangle;
    int order = 0; ///< higher is in front; equal: the later in the file
    Source source;
};

struct Action {
    ReportKind kind = ReportKind::play; ///< play or stop
    int sound = 0;
};

struct Binding {
    ReportKind trigger = ReportKind::press; ///< press, key_down, contact or notice
    std::string name;                       ///< zone, key code, notice or body kind
    std::string other;                      ///< contact: the second body kind
    std::vector<Action> actions;
    Source source;
};

/// A name that is declared, so that it may be used, before there is anything to play.
struct Pending {
    std::string kind; ///< `clip` or `sound`
    std::string name;
    Source source;
};

struct Project {
    std::string name;
    std::vector<Pending> pending;
    std::vector<Clip> clips;
    std::vector<Sound> sounds; ///< the ones in the file, then the implied ones
    std::vector<Zone> zones;
    std::vector<Binding> bindings;
    std::vector<Acceptance> accepted;
};

} // namespace kiai::model
