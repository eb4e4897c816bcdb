// What bindings, sequences and the app's own calls do.
#include "core/rules/router.h"

#include <algorithm>

namespace kiai::rules {

using mixer::Which;
using model::Target;
using model::Verb;

namespace {

/// The plays that a target means; a scope or sequence has its own way.
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

int Router::play(const model::Action& action, const ActionContext& context, Holder holder) noexcept {
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
    wanted.lasts = action.lasts ? action.lasts->frames(plan_.rate()) : 0;
    return plays_->request(wanted, now_) != 0 ? 1 : 0;
}

void Router::stop_sound(int sound, double seconds, decisions::Record cause) noexcept {
    cause.sound = sound;
    cause.count = static_cast<std::uint64_t>(
        plays_->stop({Which::Kind::sound, static_cast<std::uint64_t>(sound)}, seconds, cause.cause, now_));
    write(cause, cause.count > 0 ? Outcome::stopped : Outcome::nothing_to_stop);
}

/// -1: all of them. Their plays end with them.
int Router::stop_sequences(int sequence, double seconds, std::uint64_t by) noexcept {
    int plays = 0;
    const int runs = sequences_.stop_if([&](int of, int) { return sequence < 0 || of == sequence; },
                                        [&](std::uint32_t run) {
                                            plays += plays_->stop({Which::Kind::run, run}, seconds, by, now_);
                                        });
    return runs + plays;
}

void Router::stop(const model::Action& action, ActionContext context) noexcept {
    const double seconds = action.fade ? static_cast<double>(action.fade->frames(plan_.rate())) / plan_.rate() : -1;
    if (action.target == Target::sound) return stop_sound(action.index, seconds, context.cause);
    int count = 0;
    if (action.target == Target::sequence || action.target == Target::everything)
        count += stop_sequences(action.target == Target::sequence ? action.index : -1, seconds, context.cause.cause);
    if (action.target != Target::sequence) count += plays_->stop(plays_of(action), seconds, context.cause.cause, now_);
    context.cause.count = static_cast<std::uint64_t>(count);
    write(context.cause, count > 0 ? Outcome::stopped : Outcome::nothing_to_stop);
}

int Router::pause(const model::Action& action, bool on) noexcept {
    if (action.target == Target::scope) return pause_scope(action.index, on) ? 1 : 0;
    return plays_->pause(plays_of(action), mixer::by_action, on, now_);
}

void Router::set(const model::Action& action, std::uint64_t from) noexcept {
    const double seconds = static_cast<double>(action.over.frames(plan_.rate())) / plan_.rate();
    if (action.target == Target::dial) {
        const model::Dial& dial = project_.dials[static_cast<std::size_t>(action.index)];
        return set_dial(action.index, std::clamp(action.to, dial.low, dial.high), from);
    }
    if (action.target == Target::sound) return plays_->set_sound_gain(action.index, action.gain, seconds, now_);
    plays_->set_bus_gain(action.index, action.gain, seconds, now_);
}

void Router::mute(const model::Action& action, bool on) noexcept {
    if (action.target == Target::sound) return plays_->mute_sound(action.index, on, now_);
    plays_->mute_bus(action.target == Target::everything ? 0 : action.index, on, now_); // 0 is `main`
}

bool Router::run(int sequence, const ActionContext& context) noexcept {
    const int own = project_.sequences[static_cast<std::size_t>(sequence)].scope;
    if (!scopes_.on(own)) {
        write(context.cause, Outcome::scope_off);
        return false;
    }
    if (scopes_.paused(own)) {
        write(context.cause, Outcome::scope_paused);
        return false;
    }
    if (!once_more(winding_.ran, sequence)) return false;
    write(context.cause, Outcome::done);
    if (sequences_.run(sequence, own >= 0 ? own : context.scope, context.event, context.cause, now_)) return true;
    write(context.cause, Outcome::no_room);
    return false;
}

int Router::step(const Stepped& stepped) noexcept {
    if (!affords(stepped.cause)) return 0;
    return act(*stepped.action, {stepped.event, stepped.cause, stepped.scope, stepped.run, stepped.branch});
}

/// Carries one out, and writes what came of it; how many plays began.
int Router::act(const model::Action& action, const ActionContext& given) noexcept {
    ActionContext context = given;
    context.cause.action = action.number;
    const auto done = [&](int count) {
        context.cause.count = static_cast<std::uint64_t>(count);
        write(context.cause, Outcome::done);
    };
    switch (action.verb) {
    case Verb::play:
        return play(action, context, 0);
    case Verb::hold:
        if (context.event.holder != 0) return play(action, context, context.event.holder);
        context.cause.sound = action.index;
        write(context.cause, Outcome::no_end);
        return 0;
    case Verb::toggle:
        if (!plays_->sounds(action.index)) return play(action, context, 0);
        stop_sound(action.index, -1, context.cause);
        return 0;
    case Verb::restart:
        if (plays_->sounds(action.index)) stop_sound(action.index, -1, context.cause);
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
        notice.name = action_names_[static_cast<std::size_t>(action.number)];
        notice.other = model::no_name;
        notice.from = context.cause.cause;
        notice.holder = 0;
        notice.binding = -1;
        notice.lost = notice.repeated = notice.quiet = false;
        happen(notice);
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

/// What the app does without a binding.
void Router::serve_direct(const mixer::Command& command, const Event& event) noexcept {
    const mixer::Handles::Handle handle{command.handle, command.generation};
    const bool runs = command.report == ReportKind::run;
    const int index = runs ? sequence_by_name_.of(command.name) : plan_.sound_of(command.name);
    const int scope = command.other == model::no_name ? -1 : scopes_.number_of(command.other);
    Event meant = event;
    meant.other = model::no_name;
    if (index < 0 || (scope < 0 && command.other != model::no_name)) {
        plays_->forget(handle);
        if (index >= 0) meant.name = command.other; // it is the scope that nobody knows
        return say(Outcome::unknown_name, meant);
    }
    if (command.report == ReportKind::play && handle.slot != mixer::no_handle && !plays_->asked(handle))
        return; // it was stopped before it began
    PlayOptions options = command.options;
    if (!runs) {
        const int layers = static_cast<int>(plan_.at(index).layers.size());
        options.layer = std::clamp(options.layer, 0, layers);
        if (options.layer != command.options.layer) say(Outcome::out_of_range, meant);
    }
    const ActionContext context{meant, begin_record(meant), scope, 0, -1};
    if (!scopes_.on(scope) || scopes_.paused(scope)) {
        plays_->forget(handle);
        return write(context.cause, scopes_.on(scope) ? Outcome::scope_paused : Outcome::scope_off);
    }
    const auto begin = [&] {
        mixer::Wanted wanted{index, options, handle, context.cause, command.values, scope, 0, 0, -1, 0};
        plays_->request(wanted, now_);
    };
    const Which which{Which::Kind::sound, static_cast<std::uint64_t>(index)};
    switch (command.report) {
    case ReportKind::play:
        return begin();
    case ReportKind::toggle:
        return plays_->sounds(index) ? stop_sound(index, -1, context.cause) : begin();
    case ReportKind::pause:
    case ReportKind::resume: {
        decisions::Record done = context.cause;
        done.sound = index;
        done.count = static_cast<std::uint64_t>(
            plays_->pause(which, mixer::by_action, command.report == ReportKind::pause, now_));
        return write(done, Outcome::done);
    }
    case ReportKind::run:
        run(index, context);
        return;
    default:
        return stop_sound(index, -1, context.cause);
    }
}

void Router::serve_bus(const mixer::Command& command, const Event& event) noexcept {
    const int bus = plan_.bus_of(command.name);
    if (bus < 0) return say(Outcome::unknown_name, event);
    if (command.report == ReportKind::bus_gain)
        plays_->set_bus_gain(bus, command.value, command.over, now_);
    else
        plays_->mute_bus(bus, command.value != 0, now_);
    decisions::Record done = begin_record(event);
    done.value = static_cast<float>(command.value);
    write(done, Outcome::done);
}

} // namespace kiai::rules
