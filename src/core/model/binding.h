// Triggers, conditions and actions, and the sequences that actions run in.
#pragma once

#include "core/model/source.h"

#include <kiai/decision.h>
#include <kiai/report.h>

#include <optional>
#include <string>
#include <vector>

namespace kiai::model {

/// The input of a follow or a condition.
enum class Value : std::uint8_t {
    strength, ///< of the trigger
    place,    ///< of the trigger
    dial,     ///< of the whole app
    own,      ///< of this one play or trigger, by name
};

/// A comparison of a value with a number.
struct Clause {
    enum class Is : std::uint8_t { less, at_most, equal, not_equal, at_least, more };
    Value value = Value::dial;
    int dial = 0;     ///< value dial: which
    std::string name; ///< of the value, as it is written
    Is is = Is::more;
    double number = 0;

    bool operator==(const Clause&) const = default;
    /// `margin`: the hysteresis.
    bool holds(double value, double margin = 0) const noexcept;
};
/// Returns `fill > 0.8`.
std::string to_string(const Clause& clause);

/// True if all clauses hold; without clauses always true.
using Condition = std::vector<Clause>;

using kiai::Verb;
using Target = ActionTarget;

/// What most triggers read comes first, so that it shares a cache line.
struct Action {
    int number = 0; ///< the n-th of the project, from 0
    Verb verb = Verb::play;
    Target target = Target::none;
    FadeCurve curve = FadeCurve::equal_gain; ///< of `fade`
    int index = 0;                           ///< of the target, where it is an entry
    double gain = 0;                         ///< dB: added to a play's; of `set` what it becomes
    double pitch = 0;                        ///< semitones, added to a play's
    double to = 0;                           ///< set: what a dial becomes
    std::optional<Duration> lasts;           ///< play, toggle, restart: stopped after it
    std::optional<Duration> fade;            ///< stop: instead of the sound's own way
    Duration over{0.01, false};              ///< set: how long a gain takes
    std::string name;                        ///< of the target, as it is written

    bool same_as(const Action& other) const; ///< but for its number
};
/// Returns the action for a decision.
ActionTaken taken(const Action& action);

struct Binding {
    ReportKind trigger = ReportKind::press;
    std::string name;     ///< zone, key code, notice, body kind, motion, scope or sound; empty: it was left out
    std::string other;    ///< contact, apart: the second body kind; marker: its name
    Condition watch;      ///< trigger watch
    double margin = 0;    ///< watch: by how much its condition has to be missed before it ends
    Duration time;        ///< after, every
    double more = 0;      ///< every: seconds; the maximum that is added at random each time
    bool lost = false;    ///< release, key-up, leave, apart: fires too where the input was lost
    bool repeats = false; ///< key-down: the keyboard's repeats count
    int scope = -1;       ///< in which it holds; -1: always
    Condition when;
    double chance = 1;
    bool once = false; ///< each time its scope is on
    int nth = 1;       ///< only every so-many-th time
    Duration gap;      ///< least time between two that count
    std::vector<Action> actions;
    std::string in_zone; ///< the zone that it is written in, as `press = "lid"`; empty: written as a [[binding]]
    Source source;
};

/// Returns `binding 3`, or for a binding inside a zone `zone "lid", press`; `number`: from 1.
std::string binding_title(const Binding& binding, std::size_t number);
/// Returns `press hopper`, `contact marble+oak` or `watch fill > 0.8`; for a binding with an error only the kind.
std::string trigger_text(const Binding& binding);
/// A part of the app's life, on or off.
struct Scope {
    std::string name;
    bool on = false;           ///< from the start
    Duration fade{0.2, false}; ///< of what ends when it is left
    Source source;
    bool gone = false; ///< see align.h
    bool operator==(const Scope&) const = default;
};

/// An animation whose playhead the app reports.
struct Motion {
    struct Marker {
        std::string name;
        std::vector<double> places; ///< in the motion's frames
        bool operator==(const Marker&) const = default;
    };
    std::string name;
    int frames = 1;         ///< its length
    double rate = 30;       ///< its frames per second
    bool backwards = false; ///< its playhead may run backwards too
    std::vector<Marker> markers;
    Source source;
    bool gone = false; ///< see align.h
    bool operator==(const Motion&) const = default;
};

struct Step {
    enum class Kind : std::uint8_t { act, wait, wait_for_end, repeat, together };
    Kind kind = Kind::act;
    Action action;
    Duration time;
    double more = 0;                      ///< wait: seconds; the maximum that is added at random each time
    int count = 1;                        ///< repeat; 0: until it is stopped
    std::vector<std::vector<Step>> parts; ///< repeat: one; together: all that begin at once

    bool same_as(const Step& other) const;
};

struct Sequence {
    std::string name;
    int scope = -1; ///< that ends it; -1: that of what ran it
    std::vector<Step> steps;
    Source source;
    bool gone = false; ///< see align.h
};

} // namespace kiai::model
