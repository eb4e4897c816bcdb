#include "core/rules/direct_calls.h"

#include <algorithm>

namespace kiai::rules {

using model::Verb;

/// Returns the requested play of a report; nothing, after writing why, if it is impossible.
std::optional<mixer::Wanted> DirectCalls::wanted(const mixer::Command& command, const Event& event) noexcept {
    const mixer::Handles::Handle handle{command.handle, command.generation};
    const int sound = state_.plan.sound_of(command.name);
    const int scope = command.other == model::no_name ? -1 : state_.scopes.number_of(command.other);
    const int bus = command.options.bus == model::no_name ? -1 : state_.plan.bus_of(command.options.bus);
    Event meant = event;
    meant.other = model::no_name;
    if (sound < 0 || (scope < 0 && command.other != model::no_name) ||
        (bus < 0 && command.options.bus != model::no_name)) {
        state_.plays->forget(handle, EndReason::unknown_name);
        decisions::Record record = state_.begin_record(meant);
        if (sound >= 0) { // the scope or the bus is unknown
            const bool of_scope = scope < 0 && command.other != model::no_name;
            record.on = of_scope ? command.other : command.options.bus;
            record.direct = true;
            record.verb = Verb::play;
            record.target = of_scope ? ActionTarget::scope : ActionTarget::bus;
        }
        state_.write(record, Outcome::unknown_name);
        return std::nullopt;
    }
    if (handle.slot != mixer::no_handle && !state_.plays->asked(handle))
        return std::nullopt; // it was stopped before it began
    mixer::PlayNumbers options = command.options;
    const auto layers = static_cast<std::int16_t>(state_.plan.at(sound).layers.size());
    options.layer = std::clamp<std::int16_t>(options.layer, 0, layers);
    if (options.layer != command.options.layer) state_.say(Outcome::out_of_range, meant);
    const decisions::Record cause = state_.begin_record(meant);
    if (!state_.scopes.on(scope) || state_.scopes.paused(scope)) {
        state_.plays->forget(handle, EndReason::scope_off);
        state_.write(cause, state_.scopes.on(scope) ? Outcome::scope_paused : Outcome::scope_off);
        return std::nullopt;
    }
    mixer::Wanted wanted{sound, options, handle, cause, command.values, scope, 0, 0, -1, 0, bus};
    wanted.lasts = static_cast<Frames>(options.length * state_.plan.rate() + 0.5);
    return wanted;
}

void DirectCalls::serve_play(const mixer::Command& command, const Event& event) noexcept {
    if (command.report == ReportKind::run) return serve_run(command, event);
    const auto wanted = this->wanted(command, event);
    if (!wanted) return;
    if (command.report == ReportKind::toggle && state_.plays->sounds(wanted->sound))
        return actions_.stop_sound(wanted->sound, -1, wanted->cause);
    state_.plays->request(*wanted, state_.now);
}

void DirectCalls::serve_run(const mixer::Command& command, const Event& event) noexcept {
    const int sequence = state_.sequence_by_name.of(command.name);
    if (sequence < 0) return state_.say(Outcome::unknown_name, event);
    actions_.run(sequence, {event, state_.begin_record(event), -1, 0, -1});
}

/// Ends the old play first, so that it makes room for the new one.
void DirectCalls::serve_crossfade(const mixer::Command& command, const Event& event) noexcept {
    const mixer::Handles::Handle from{command.with, command.with_generation};
    auto wanted = this->wanted(command, event);
    if (!wanted) return;
    const double shortest = 0.01, seconds = std::max(static_cast<double>(command.fade), shortest);
    if (const model::Sound& sound = *state_.plan.at(wanted->sound).sound; !sound.pending && !sound.unready) {
        if (command.target == ActionTarget::none) {
            state_.plays->stop_play(from, seconds, wanted->cause, state_.now, FadeCurve::equal_power);
        } else {
            model::Action end;
            end.verb = Verb::stop;
            end.target = command.target;
            end.index = find(command.target, command.from);
            end.fade = model::Duration{seconds, false};
            end.curve = FadeCurve::equal_power;
            ActionContext context{event, wanted->cause, -1, 0, -1};
            context.cause.on = command.from;
            context.cause.direct = true;
            context.cause.verb = Verb::stop;
            context.cause.target = command.target;
            if (end.index < 0)
                state_.write(context.cause, Outcome::unknown_name);
            else
                actions_.carry_out(end, context);
        }
    }
    wanted->options.fade_in = seconds;
    wanted->options.curve = FadeCurve::equal_power;
    state_.plays->request(*wanted, state_.now);
}

/// Returns the entry that a target names, or -1.
int DirectCalls::find(ActionTarget target, model::NameId name) const noexcept {
    switch (target) {
    case ActionTarget::bus:
        return state_.plan.bus_of(name);
    case ActionTarget::scope:
        return state_.scopes.number_of(name);
    case ActionTarget::sequence:
        return state_.sequence_by_name.of(name);
    case ActionTarget::everything:
        return 0;
    default:
        return state_.plan.sound_of(name);
    }
}

void DirectCalls::serve_target(const mixer::Command& command, const Event& event) noexcept {
    model::Action action;
    action.verb = command.report == ReportKind::stop     ? Verb::stop
                  : command.report == ReportKind::pause  ? Verb::pause
                  : command.report == ReportKind::resume ? Verb::resume
                                                         : Verb::restart;
    action.target = command.target;
    action.index = find(command.target, command.name);
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
