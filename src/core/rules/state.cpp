#include "core/rules/state.h"

namespace kiai::rules {

RuleState::RuleState(const mixer::Plan& of_plan, model::NameTable& names, const mixer::CoreSettings& settings, Hub& hub,
                     Player& player)
    : plan(of_plan), project(plan.project()), bindings(project.bindings, names),
      rules(project.bindings, names, plan.rate(), settings.seed), scopes(project.scopes, names),
      zones(project.zones, names), pointers(zones, hub), touches(hub, 2 * settings.reports),
      bodies(project.bindings, names, hub), motions(project.motions, names, hub), watches(project, names, hub),
      agenda(project.bindings.size(), Sequences::most_branches),
      timers(project.bindings, agenda, plan.rate(), settings.seed),
      sequences(project.sequences, plan.rate(), settings.seed, agenda, player), dials(project.dials.size()),
      start(names.add(to_string(ReportKind::start))) {
    for (std::size_t d = 0; d < dials.size(); ++d) dials[d].store(project.dials[d].start);
    for (const model::Sound& sound : project.sounds) sound_names.push_back(names.add(sound.name));
    for (const model::Dial& dial : project.dials) dial_names.push_back(names.add(dial.name));
    for (const model::Bus& bus : project.buses) bus_names.push_back(names.add(bus.name));
    for (const model::Binding& binding : project.bindings) binding_names.push_back(names.add(binding.name));
    for (const model::Action* action : plan.actions())
        action_names.push_back(action ? names.add(action->name) : model::no_name);
    for (std::size_t s = 0; s < project.sequences.size(); ++s) {
        sequence_names.push_back(names.add(project.sequences[s].name));
        if (!project.sequences[s].gone) sequence_by_name.add(sequence_names.back(), static_cast<int>(s));
    }
}

void RuleState::write(decisions::Record record, Outcome outcome) noexcept {
    record.frame = now;
    record.outcome = outcome;
    journal->write(record);
}

decisions::Record RuleState::begin_record(const Event& event) noexcept {
    decisions::Record record;
    record.cause = ++happened;
    record.from = event.from;
    record.trigger = event.kind;
    record.on = event.name;
    record.on_other = event.other;
    record.point = event.point;
    record.paired = event.holder != 0;
    return record;
}

void RuleState::say(Outcome outcome, const Event& event) noexcept {
    write(begin_record(event), outcome);
}

void RuleState::overdraw(const decisions::Record& cause) noexcept {
    if (now - overdrawn >= plan.rate()) {
        write(cause, Outcome::too_deep);
        overdrawn = now;
    }
}

bool RuleState::affords(const decisions::Record& cause) noexcept {
    if (--allowance >= 0) return true;
    overdraw(cause);
    return false;
}

} // namespace kiai::rules
