// An event on its way to its bindings, and the interface through which each part reports it.
#pragma once

#include "core/mixer/command.h"
#include "core/model/chance.h"

#include <kiai/decision.h>

namespace kiai::rules {

/// What may hold a play: one press, key, stay, contact, watch or scope; 0: none.
using Holder = std::uint64_t;
inline Holder holder_of(ReportKind kind, std::uint64_t which) noexcept {
    constexpr std::uint64_t low = (std::uint64_t{1} << 56) - 1;
    return (static_cast<std::uint64_t>(kind) + 1) << 56 | (model::scatter(which) & low);
}

struct Event {
    ReportKind kind = ReportKind::notice;
    model::NameId name = model::no_name, other = model::no_name;
    std::uint64_t from = 0; ///< what it was caused by, a number of the log; 0: an app's report, or the time
    mixer::PlayNumbers options;
    mixer::NamedNumbers values{};
    Holder holder = 0;     ///< it lasts until that is over
    Point point;           ///< press: where
    int binding = -1;      ///< for this one alone; else for all that wait for it
    bool quiet = false;    ///< that nothing is bound to it is not worth a word
    bool lost = false;     ///< it ended because input was lost or its zone or body was removed
    bool repeated = false; ///< a key that the keyboard repeats
};

class Hub {
  public:
    virtual ~Hub() = default;
    /// Carries out the bindings of an event. Returns its number in the log. [rt]
    virtual std::uint64_t happen(const Event& event) noexcept = 0;
    /// Ends what a holder holds, because of `event`; `by`: the event's number in the log. [rt]
    virtual void over(Holder holder, const Event& event, std::uint64_t by) noexcept = 0;
    /// Writes that something was not done. [rt]
    virtual void say(Outcome outcome, const Event& event) noexcept = 0;
    virtual bool scope_on(int scope) const noexcept = 0;
};

} // namespace kiai::rules
