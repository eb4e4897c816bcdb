// A decision on its way out of `render`: fixed size, with numbers for names. One record per layer follows a `played`.
#pragma once

#include "core/model/names.h"
#include "core/model/project.h"

#include <kiai/decision.h>

#include <variant>

namespace kiai::decisions {

struct Record {
    Frames frame = 0;
    std::uint64_t cause = 0;
    std::uint64_t ended_by = 0;
    std::uint64_t from = 0; ///< what the cause itself was caused by
    Outcome outcome = Outcome::played;
    ReportKind trigger = ReportKind::notice;
    EndReason reason = EndReason::none;
    bool paired = false;      ///< contact: its end will be known
    std::uint16_t layers = 0; ///< played: how many layer records follow
    model::NameId on = model::no_name;
    model::NameId on_other = model::no_name;
    std::int32_t binding = 0;
    std::int32_t action = -1; ///< the n-th of the project
    bool direct = false;      ///< a call of the app did `verb` to `target`, whose name is `on`
    Verb verb = Verb::nothing;
    ActionTarget target = ActionTarget::none;
    std::int16_t clause = -1; ///< not_met: which of the binding's conditions; beyond them its other rules
    Point point;              ///< press: where
    float value = 0;          ///< not_met: what it was; ducked: dB
    std::int32_t sound = -1;
    std::uint32_t play = 0;
    std::uint32_t other = 0; ///< stolen: the play in favour of which; ducked, duck_over: under the n-th bus, from 1
    static constexpr std::int16_t engine = -1, gap = -2;
    /// stolen, refused_limit, refused_gap: 0 the sound's own limit, `engine`, `gap`, else the n-th bus, from 1; ducked,
    /// duck_over: the bus in the same way
    std::int16_t limit = 0;
    model::Full rule = model::Full::end_oldest; ///< stolen, refused_limit
    float peak = 0;                             ///< ended: linear
    Frames length = 0;                          ///< ended: of the play; refused and stolen: what the limit measured
    Frames counted = 0;                         ///< ended: as Decision's; refused and stolen: what the limit allows
    std::uint64_t count = 0;
};

/// One layer of a play that started.
struct LayerRecord {
    std::int32_t layer = 0; ///< from 0
    std::int32_t clip = 0;
    std::int32_t take = 0;
    std::int32_t takes = 0;
    float pitch = 0, gain = 0, pan = 0;
    float share = 1;  ///< linear, by the balance of its sound's layers
    Frames delay = 0; ///< after the play's begin
};

using Entry = std::variant<Record, LayerRecord>;

} // namespace kiai::decisions
