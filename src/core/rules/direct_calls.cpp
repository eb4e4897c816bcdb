#include "core/rules/direct_calls.h"

#include <algorithm>

namespace kiai::rules {

using model::Verb;

void DirectCalls::serve_play(const mixer::Command& command, const Event& event) noexcept {
    const mixer::Handles::Handle handle{command.handle, command.generation};
    const bool runs = command.report == ReportKind::run;
    const int index = runs ? state_.sequence_by_name.of(command.name) : state_.plan.sound_of(command.name);
    const int scope = command.other == model::no_name ? -1 : state_.scopes.number_of(command.other);
    Event meant = event;
    meant.other = model::no_name;
    if (index < 0 || (scope < 0 && command.other != model::no_name)) {
        state_.plays->forget(handle, EndReason::unknown_name);
        if (index >= 0) meant.name = command.other; // it is the scope that nobody knows
        return state_.say(Outcome::unknown_name, meant);
    }
    if (command.report == ReportKind::play && handle.slot != mixer::no_handle && !state_.plays->asked(handle))
        return; // it was stopped before it began
    PlayOptions options = command.options;
    if (!runs) {
        const int layers = static_cast<int>(state_.plan.at(index).layers.size());
        options.layer = std::clamp(options.layer, 0, layers);
        if (options.layer != command.options.layer) state_.say(Outcome::out_of_range, meant);
    }
    const ActionContext context{meant, state_.begin_record(meant), scope, 0, -1};
    if (!state_.scopes.on(scope) || state_.scopes.paused(scope)) {
        state_.plays->forget(handle, EndReason::scope_off);
        return state_.write(context.cause, state_.scopes.on(scope) ? Outcome::scope_paused : Outcome::scope_off);
    }
    if (runs) {
        actions_.run(index, context);
        return;
    }
    if (command.report == ReportKind::toggle && state_.plays->sounds(index))
        return actions_.stop_sound(index, -1, context.cause);
    mixer::Wanted wanted{index, options, handle, context.cause, command.values, scope, 0, 0, -1, 0};
    wanted.lasts = static_cast<Frames>(options.length.count() * state_.plan.rate() + 0.5);
    state_.plays->request(wanted, state_.now);
}

/// The entry that a target names, or -1.
int DirectCalls::find(const mixer::Command& command) const noexcept {
    switch (command.target) {
    case ActionTarget::bus:
        return state_.plan.bus_of(command.name);
    case ActionTarget::scope:
        return state_.scopes.number_of(command.name);
    case ActionTarget::sequence:
        return state_.sequence_by_name.of(command.name);
    case ActionTarget::everything:
        return 0;
    default:
        return state_.plan.sound_of(command.name);
    }
}

void DirectCalls::serve_target(const mixer::Command& command, const Event& event) noexcept {
    model::Action action;
    action.verb = command.report == ReportKind::stop     ? Verb::stop
                  : command.report == ReportKind::pause  ? Verb::pause
                  : command.report == ReportKind::resume ? Verb::resume
                                                         : Verb::restart;
    action.target = command.target;
    action.index = find(command);
    if (command.fade >= 0) action.fade = model::Duration{static_cast<double>(command.fade), false};
    ActionContext context{event, state_.begin_record(event), -1, 0, -1};
    context.cause.direct = command.target != ActionTarget::sound;
    context.cause.verb = action.verb;
    context.cause.target = command.target;
    if (action.index < 0) return state_.write(context.cause, Outcome::unknown_name);
    if (action.verb == Verb::restart) return actions_.restart(action, context);
    if (command.target == ActionTarget::sound) context.cause.sound = action.index;
    actions_.carry_out(action, context);
}

void DirectCalls::serve_bus(const mixer::Command& command, const Event& event) noexcept {
    const int bus = state_.plan.bus_of(command.name);
    if (bus < 0) return state_.say(Outcome::unknown_name, event);
    const double seconds = command.over;
    if (command.report == ReportKind::bus_gain)
        state_.plays->set_bus_gain(bus, command.value, seconds, state_.now);
    else
        state_.plays->mute_bus(bus, command.value != 0, state_.now);
    decisions::Record done = state_.begin_record(event);
    done.value = static_cast<float>(command.value);
    state_.write(done, Outcome::done);
}

} // namespace kiai::rules
