#include "core/engine/translator.h"

#include "core/dsp/math.h"
#include "core/model/key_codes.h"
#include "core/model/near.h"

#include <vector>

namespace kiai::engine {

using decisions::Record;

std::string Translator::nearest(const Decision& decision) const {
    std::vector<std::string> known;
    const auto& data = told();
    const auto nearest_of = [&](const auto& entries) {
        for (const auto& entry : entries) known.push_back(entry.name);
        return model::nearest(decision.on, known);
    };
    if (decision.outcome == Outcome::unknown_name && decision.action) switch (decision.action->target) {
        case ActionTarget::bus:
            return nearest_of(data.buses);
        case ActionTarget::scope:
            return nearest_of(data.scopes);
        case ActionTarget::sequence:
            return nearest_of(data.sequences);
        default:
            return nearest_of(data.sounds);
        }
    if (decision.outcome == Outcome::unknown_name) switch (decision.trigger) {
        case ReportKind::dial:
            return nearest_of(data.dials);
        case ReportKind::scope_enter:
        case ReportKind::scope_leave:
        case ReportKind::scope_pause:
        case ReportKind::scope_resume:
            return nearest_of(data.scopes);
        case ReportKind::zone:
        case ReportKind::zone_gone:
            return nearest_of(data.zones);
        case ReportKind::playhead:
        case ReportKind::playhead_gone:
            return nearest_of(data.motions);
        case ReportKind::bus_gain:
        case ReportKind::bus_mute:
            return nearest_of(data.buses);
        case ReportKind::run:
            return nearest_of(data.sequences);
        default:
            return nearest_of(data.sounds);
        }
    if (decision.outcome == Outcome::unknown_value) {
        for (const mixer::PlannedSound& planned : editions_.read().plan.sounds())
            if (planned.sound->name == decision.sound)
                for (const model::NameId value : planned.own_names) known.push_back(names_.text(value));
        return model::nearest(decision.on, known);
    }
    for (const model::Binding& binding : told().bindings) {
        if (binding.trigger != decision.trigger) continue;
        known.push_back(binding.name + (binding.other.empty() ? "" : "+" + binding.other));
        if (!binding.other.empty()) known.push_back(binding.other + "+" + binding.name);
    }
    return model::nearest(decision.on, known);
}

LimitReached Translator::limit_of(const Record& record) const {
    using Kind = LimitReached::Kind;
    const auto measured = static_cast<double>(record.length), allowed = static_cast<double>(record.counted);
    const std::string sound =
        record.sound >= 0 ? told().sounds[static_cast<std::size_t>(record.sound)].name : std::string();
    switch (record.limit) {
    case 0:
        return {Kind::sound, sound, record.rule, measured, allowed};
    case Record::gap:
        return {Kind::gap,
                record.outcome == Outcome::refused_gap && record.other > 0 ? told().buses[record.other - 1].name
                                                                           : sound,
                record.rule, measured / rate_, allowed / rate_};
    case Record::engine:
        return {Kind::engine, {}, record.rule, 0, 0};
    default:
        return {Kind::bus, told().buses[static_cast<std::size_t>(record.limit - 1)].name, record.rule, measured,
                allowed};
    }
}

Decision Translator::translate(const decisions::Record& record) {
    Decision decision;
    decision.sample_rate = rate_;
    decision.frame = record.frame;
    decision.outcome = record.outcome;
    decision.cause = record.cause;
    decision.from = record.from;
    if (record.action >= 0)
        decision.action = model::taken(*editions_.read().plan.actions()[static_cast<std::size_t>(record.action)]);
    if (record.direct) decision.action = ActionTaken{record.verb, record.target, names_.text(record.on), 0};
    decision.trigger = record.trigger;
    decision.on = names_.text(record.on);
    if (record.on_other != model::no_name) decision.on += "+" + names_.text(record.on_other);
    decision.point = record.point;
    decision.paired = record.paired;
    decision.binding = record.binding;
    if (record.sound >= 0) decision.sound = told().sounds[static_cast<std::size_t>(record.sound)].name;
    decision.play = record.play;
    decision.other = record.other;
    decision.reason = record.reason;
    if (record.outcome == Outcome::stolen || record.outcome == Outcome::refused_limit ||
        record.outcome == Outcome::refused_gap)
        decision.limit = limit_of(record);
    if (record.trigger == ReportKind::bus_gain || record.trigger == ReportKind::bus_mute) decision.value = record.value;
    if (record.outcome == Outcome::refused_gap) decision.other = 0; // it was the bus of the gap
    if (record.trigger >= ReportKind::play_stop && record.trigger <= ReportKind::play_seek)
        decision.value = record.value;
    if (record.outcome == Outcome::insert_off || record.outcome == Outcome::insert_slow) {
        static constexpr const char* faults[] = {"it threw an exception", "it gave a NaN or infinite sample",
                                                 "it is slower than real time"};
        decision.bus = told().buses[static_cast<std::size_t>(record.limit - 1)].name;
        decision.value = record.value;
        if (record.outcome == Outcome::insert_off) decision.rule = faults[record.clause];
    }
    if (record.outcome == Outcome::not_met) {
        decision.rule =
            rules::Rules::text(told().bindings[static_cast<std::size_t>(record.binding - 1)], record.clause);
        decision.value = record.value;
    }
    if (record.outcome == Outcome::ducked || record.outcome == Outcome::duck_over) {
        decision.other = 0;
        decision.bus = told().buses[static_cast<std::size_t>(record.limit - 1)].name;
        decision.under = told().buses[record.other - 1].name;
        decision.value = record.value;
    }
    decision.ended_by = record.ended_by;
    decision.level = static_cast<Decibels>(dsp::gain_to_db(record.peak));
    if (record.outcome == Outcome::ended) {
        decision.length = record.length;
        decision.counted = record.counted;
    }
    decision.count = record.outcome == Outcome::changed ? 0 : record.count;
    for (int l = 0; l < record.layers; ++l) {
        decisions::LayerRecord layer;
        if (!journal_.read(layer)) break; // written in one with their head: never missing
        const auto share = static_cast<Decibels>(layer.share == 1 ? 0 : dsp::gain_to_db(layer.share));
        const auto& layers = told().sounds[static_cast<std::size_t>(record.sound)].layers;
        const std::string label = static_cast<std::size_t>(layer.layer) < layers.size()
                                      ? layers[static_cast<std::size_t>(layer.layer)].label
                                      : std::string();
        decision.layers.push_back({layer.layer + 1, label, told().clips[static_cast<std::size_t>(layer.clip)].name,
                                   layer.pitch, layer.gain + share, layer.pan, layer.take, layer.takes, layer.delay});
    }
    // The app cannot misspell the name of a zone, and it may press any existing key.
    const bool is_press = record.trigger == ReportKind::press ||
                          (record.trigger == ReportKind::key_down && model::is_key_code(decision.on));
    if (record.outcome == Outcome::unknown_name || record.outcome == Outcome::unknown_value ||
        (record.outcome == Outcome::no_binding && !is_press))
        decision.nearest = nearest(decision);
    const bool of_sounds = record.trigger == ReportKind::play || record.trigger == ReportKind::stop ||
                           record.trigger == ReportKind::toggle || record.trigger == ReportKind::pause ||
                           record.trigger == ReportKind::resume || record.trigger == ReportKind::restart;
    if (record.outcome == Outcome::unknown_name && of_sounds)
        for (const model::LeftOut& one : told().left_out)
            if (one.name == decision.on) decision.excluded = true, decision.nearest.clear();
    return decision;
}

} // namespace kiai::engine
