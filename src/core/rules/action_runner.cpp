#include "core/rules/action_runner.h"

#include <algorithm>

namespace kiai::rules {

using mixer::Which;
using model::Target;
using model::Verb;

namespace {

/// Returns the plays of a target. Scopes and sequences are handled separately.
Which plays_of(const model::Action& action) {
    const auto number = static_cast<std::uint64_t>(action.index);
    switch (action.target) {
    case Target::sound:
        return {Which::Kind::sound, number};
    case Target::bus:
        return {Which::Kind::bus, number};
    case Target::scope:
        return {Which::Kind::scope, number};
    default:
        return {};
    }
}

} // namespace

int ActionRunner::play(const model::Action& action, const ActionContext& context, Holder holder) noexcept {
    mixer::Wanted wanted;
    wanted.sound = action.index;
    wanted.options = context.event.options;
    wanted.options.gain = std::clamp(wanted.options.gain + static_cast<float>(action.gain), -120.0f, 24.0f);
    wanted.options.pitch = std::clamp(wanted.options.pitch + static_cast<float>(action.pitch), -48.0f, 48.0f);
    wanted.cause = context.cause;
    wanted.values = context.event.values;
    wanted.scope = context.scope;
    wanted.holder = holder;
    wanted.run = context.run;
    wanted.branch = context.branch;
    wanted.lasts = action.lasts ? action.lasts->frames(state_.plan.rate()) : 0;
    return state_.plays->request(wanted, state_.now) != 0 ? 1 : 0;
}

void ActionRunner::stop_sound(int sound, double seconds, decisions::Record cause, FadeCurve curve) noexcept {
    cause.sound = sound;
    cause.count = static_cast<std::uint64_t>(state_.plays->stop({Which::Kind::sound, static_cast<std::uint64_t>(sound)},
                                                                seconds, cause.cause, state_.now, curve));
    state_.write(cause, cause.count > 0 ? Outcome::stopped : Outcome::nothing_to_stop);
}

/// Stops a sequence (-1: all of them) together with its plays.
int ActionRunner::stop_sequences(int sequence, double seconds, std::uint64_t by) noexcept {
    int plays = 0;
    const int runs =
        state_.sequences.stop_if([&](int of, int) { return sequence < 0 || of == sequence; },
                                 [&](std::uint32_t run) {
                                     plays += state_.plays->stop({Which::Kind::run, run}, seconds, by, state_.now);
                                 });
    return runs + plays;
}

void ActionRunner::stop(const model::Action& action, const ActionContext& context) noexcept {
    const double seconds =
        action.fade ? static_cast<double>(action.fade->frames(state_.plan.rate())) / state_.plan.rate() : -1;
    if (action.target == Target::sound) return stop_sound(action.index, seconds, context.cause, action.curve);
    int count = 0;
    if (action.target == Target::sequence || action.target == Target::everything)
        count += stop_sequences(action.target == Target::sequence ? action.index : -1, seconds, context.cause.cause);
    if (action.target != Target::sequence)
        count += state_.plays->stop(plays_of(action), seconds, context.cause.cause, state_.now, action.curve);
    decisions::Record record = context.cause;
    record.count = static_cast<std::uint64_t>(count);
    state_.write(record, count > 0 ? Outcome::stopped : Outcome::nothing_to_stop);
}

int ActionRunner::pause(const model::Action& action, bool on) noexcept {
    if (action.target == Target::scope) return scope_life_.pause(action.index, on) ? 1 : 0;
    return state_.plays->pause(plays_of(action), mixer::by_action, on, state_.now);
}

void ActionRunner::set(const model::Action& action, std::uint64_t from) noexcept {
    const double seconds = static_cast<double>(action.over.frames(state_.plan.rate())) / state_.plan.rate();
    if (action.target == Target::dial) {
        const model::Dial& dial = state_.project.dials[static_cast<std::size_t>(action.index)];
        return set_dial(action.index, std::clamp(action.to, dial.low, dial.high), from);
    }
    if (action.target == Target::sound)
        return state_.plays->set_sound_gain(action.index, action.gain, seconds, state_.now);
    state_.plays->set_bus_gain(action.index, action.gain, seconds, state_.now);
}

void ActionRunner::set_dial(int dial, double value, std::uint64_t from) noexcept {
    state_.plays->set_dial(dial, value);
    state_.dials[static_cast<std::size_t>(dial)].store(value, std::memory_order_relaxed);
    state_.watches.know(dial);
    state_.watches.look(dial, *state_.plays, from);
}

void ActionRunner::mute(const model::Action& action, bool on) noexcept {
    if (action.target == Target::sound) return state_.plays->mute_sound(action.index, on, state_.now);
    state_.plays->mute_bus(action.target == Target::everything ? 0 : action.index, on, state_.now); // 0 is `main`
}

bool ActionRunner::run(int sequence, const ActionContext& context) noexcept {
    const int own = state_.project.sequences[static_cast<std::size_t>(sequence)].scope;
    if (!state_.scopes.on(own)) {
        state_.write(context.cause, Outcome::scope_off);
        return false;
    }
    if (state_.scopes.paused(own)) {
        state_.write(context.cause, Outcome::scope_paused);
        return false;
    }
    if (!winding_.may_run(sequence)) return false;
    state_.write(context.cause, Outcome::done);
    if (state_.sequences.run(sequence, own >= 0 ? own : context.scope, context.event, context.cause, state_.now))
        return true;
    state_.write(context.cause, Outcome::no_room);
    return false;
}

int ActionRunner::step(const Stepped& stepped) noexcept {
    if (!state_.affords(stepped.cause)) return 0;
    ActionContext context{stepped.event, stepped.cause, stepped.scope, stepped.run, stepped.branch};
    return act(*stepped.action, context);
}

/// Ends the plays of a sound that are on a bus (-1: on any), and plays it again where the newest was. Returns false,
/// with no effect, if there are none.
bool ActionRunner::restart_sound(int index, int within, const ActionContext& context) noexcept {
    const auto newest = state_.plays->newest(index, within);
    if (!newest) return false;
    decisions::Record cause = context.cause;
    cause.sound = index;
    cause.count = static_cast<std::uint64_t>(state_.plays->stop(
        {Which::Kind::sound, static_cast<std::uint64_t>(index), within}, -1, cause.cause, state_.now));
    state_.write(cause, Outcome::stopped);
    cause.count = 0;
    if (state_.scopes.paused(newest->scope)) {
        state_.write(cause, Outcome::scope_paused);
        return true;
    }
    mixer::Wanted again;
    again.sound = index;
    again.cause = context.cause;
    again.scope = newest->scope;
    again.bus = newest->bus;
    state_.plays->request(again, state_.now);
    return true;
}

void ActionRunner::restart(const model::Action& action, const ActionContext& context) noexcept {
    const double in_its_way = -1;
    switch (action.target) {
    case Target::sequence:
        stop_sequences(action.index, in_its_way, context.cause.cause);
        run(action.index, context);
        return;
    case Target::scope:
        state_.write(context.cause, Outcome::done);
        if (state_.scopes.on(action.index)) scope_life_.leave(action.index, context.cause.cause);
        return scope_life_.enter(action.index, context.cause.cause);
    case Target::bus:
    case Target::everything: {
        std::uint64_t count = 0;
        for (int s = 0; s < static_cast<int>(state_.plan.sounds().size()); ++s)
            count += restart_sound(s, action.target == Target::bus ? action.index : -1, context) ? 1 : 0;
        decisions::Record done = context.cause;
        done.count = count;
        return state_.write(done, count > 0 ? Outcome::done : Outcome::nothing_to_stop);
    }
    default:
        if (restart_sound(action.index, -1, context)) return;
        model::Action again;
        again.index = action.index;
        play(again, context, 0);
    }
}

int ActionRunner::act(const model::Action& action, ActionContext& context) noexcept {
    context.cause.action = action.number;
    return carry_out(action, context);
}

int ActionRunner::carry_out(const model::Action& action, const ActionContext& context) noexcept {
    const auto done = [&](int count) {
        decisions::Record record = context.cause;
        record.count = static_cast<std::uint64_t>(count);
        state_.write(record, Outcome::done);
    };
    switch (action.verb) {
    case Verb::play:
        return play(action, context, 0);
    case Verb::hold:
        if (context.event.holder != 0) return play(action, context, context.event.holder);
        return no_end(action.index, context.cause);
    case Verb::toggle:
        if (!state_.plays->sounds(action.index)) return play(action, context, 0);
        stop_sound(action.index, -1, context.cause);
        return 0;
    case Verb::restart:
        if (state_.plays->sounds(action.index)) stop_sound(action.index, -1, context.cause);
        return play(action, context, 0);
    case Verb::stop:
        stop(action, context);
        return 0;
    case Verb::pause:
    case Verb::resume:
        done(pause(action, action.verb == Verb::pause));
        return 0;
    case Verb::set:
        done(0);
        set(action, context.cause.cause);
        return 0;
    case Verb::mute:
    case Verb::unmute:
        mute(action, action.verb == Verb::mute);
        done(0);
        return 0;
    case Verb::notice: {
        done(0);
        Event notice = context.event;
        notice.kind = ReportKind::notice;
        notice.name = state_.action_names[static_cast<std::size_t>(action.number)];
        notice.other = model::no_name;
        notice.from = context.cause.cause;
        notice.holder = 0;
        notice.binding = -1;
        notice.lost = notice.repeated = notice.quiet = false;
        hub_.happen(notice);
        return 0;
    }
    case Verb::run:
        run(action.index, context);
        return 0;
    case Verb::nothing:
        done(0);
        return 0;
    }
    return 0;
}

int ActionRunner::no_end(int sound, decisions::Record cause) noexcept {
    cause.sound = sound;
    state_.write(cause, Outcome::no_end);
    return 0;
}

void ActionRunner::no_branch(const Stepped& stepped) noexcept {
    decisions::Record record = stepped.cause;
    record.trigger = ReportKind::run;
    state_.write(record, Outcome::no_room);
}

void ActionRunner::finished(const Stepped& last, int sequence) noexcept {
    decisions::Record record = last.cause;
    record.trigger = ReportKind::run;
    record.on = state_.sequence_names[static_cast<std::size_t>(sequence)];
    record.on_other = model::no_name;
    state_.write(record, Outcome::over);
}

} // namespace kiai::rules
