// The state of the rules: the parts that find out what happens, the names of the project, the present frame.
#pragma once

#include "core/mixer/core.h"
#include "core/rules/agenda.h"
#include "core/rules/bindings.h"
#include "core/rules/bodies.h"
#include "core/rules/motions.h"
#include "core/rules/pointers.h"
#include "core/rules/rules.h"
#include "core/rules/scopes.h"
#include "core/rules/sequences.h"
#include "core/rules/timers.h"
#include "core/rules/touches.h"
#include "core/rules/watches.h"
#include "core/rules/zones.h"

#include <atomic>
#include <vector>

namespace kiai::rules {

/// Shared by the classes that act on it, which may read and change all members. One thread. [rt]
struct RuleState {
    /// [control] All arguments must outlive the object.
    RuleState(const mixer::Plan& of_plan, model::NameTable& names, const mixer::CoreSettings& settings, Hub& hub,
              Player& player);
    RuleState(const RuleState&) = delete; // its parts know each other
    RuleState& operator=(const RuleState&) = delete;

    /// Starts the record of an event, which has a number of its own in the log.
    decisions::Record begin_record(const Event& event) noexcept;
    void write(decisions::Record record, Outcome outcome) noexcept;
    /// Writes an event and its outcome.
    void say(Outcome outcome, const Event& event) noexcept;
    /// Returns true if the event may cause another one. The consequences of one frame are limited, so that an endless
    /// cascade does not block `render`.
    bool affords(const decisions::Record& cause) noexcept;
    /// Writes, at most once a second, that one frame causes too much.
    void overdraw(const decisions::Record& cause) noexcept;

    const mixer::Plan& plan;
    const model::Project& project;
    mixer::Journal* journal = nullptr;
    mixer::Plays* plays = nullptr; ///< while it serves
    Frames now = 0;
    bool begun = false;
    std::uint64_t happened = 0;            ///< how much; the number of the last in the log
    int allowance = 0;                     ///< how much more may be caused at this frame
    Frames overdrawn = -Agenda::never / 2; ///< when it was last exceeded

    Bindings bindings;
    Rules rules;
    Scopes scopes;
    Zones zones;
    Pointers pointers;
    Touches touches;
    Bodies bodies;
    Motions motions;
    Watches watches;
    Agenda agenda;
    Timers timers;
    Sequences sequences;
    std::vector<std::atomic<double>> dials; ///< as those of the plays, for other threads to ask
    std::vector<model::NameId> sound_names, dial_names, bus_names, binding_names, action_names, sequence_names;
    mixer::ByName sequence_by_name;
    model::NameId start;
};

} // namespace kiai::rules
