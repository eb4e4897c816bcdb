// Reads `action`: what a binding does.
#include "core/model/effects.h"
#include "core/model/fill.h"
#include "core/reader/project_reader.h"

#include <algorithm>

namespace kiai::reader {
namespace {

using model::Target;
using model::Verb;

constexpr Verb verbs[] = {Verb::play, Verb::hold, Verb::toggle, Verb::restart, Verb::stop, Verb::pause,  Verb::resume,
                          Verb::set,  Verb::mute, Verb::unmute, Verb::notice,  Verb::run,  Verb::nothing};

/// Returns the targets of a verb other than sounds.
std::vector<Target> targets_of(Verb verb) {
    switch (verb) {
    case Verb::stop:
    case Verb::pause:
    case Verb::resume:
        return {Target::bus, Target::scope, Target::sequence, Target::everything};
    case Verb::mute:
    case Verb::unmute:
        return {Target::bus, Target::everything};
    case Verb::set:
        return {Target::bus};
    default:
        return {};
    }
}

void read_target_table(Draft& draft, Entry& entry, const Value& table, model::Action& action) {
    struct Kind {
        const char* key;
        Target target;
        const std::map<std::string, int>* known;
    };
    const Kind kinds[] = {{"bus", Target::bus, &draft.buses},
                          {"scope", Target::scope, &draft.scopes},
                          {"sequence", Target::sequence, &draft.sequences},
                          {"everything", Target::everything, nullptr}};
    Entry target(entry, table, "target", model::fill(", {}", to_string(action.verb)));
    const auto fitting = targets_of(action.verb);
    int found = 0;
    for (const Kind& kind : kinds) {
        const Value* value = target.any(kind.key);
        if (!value) continue;
        ++found;
        action.target = kind.target;
        if (std::find(fitting.begin(), fitting.end(), kind.target) == fitting.end()) {
            target.fail(FindingCode::bad_value, value->source,
                        model::fill("`{}` does not take `{}`", to_string(action.verb), kind.key),
                        action.verb == Verb::set ? "it takes a dial, a sound or { bus = \"…\" }"
                                                 : "see the keys of actions (`kiai check --schema`)");
        } else if (!kind.known) {
            if (target.truth(kind.key) == false)
                target.fail(FindingCode::bad_value, value->source, "`everything = false` has no effect",
                            "name a target");
        } else {
            action.name = value->text;
            action.index = look_up(target, *value, *kind.known, kind.key).value_or(-1);
        }
    }
    target.finish();
    if (target.ok() && found != 1)
        target.fail(FindingCode::missing_key, table.source, "no target given",
                    "give one: { bus = \"…\" }, { scope = \"…\" }, { sequence = \"…\" } or { everything = true }");
    entry.close(target);
}

void read_target(Draft& draft, Entry& entry, const Value& value, model::Action& action) {
    if (action.verb == Verb::nothing) return;
    if (value.kind == Value::Kind::table && !targets_of(action.verb).empty())
        return read_target_table(draft, entry, value, action);
    action.name = value.text;
    if (action.verb == Verb::notice) {
        action.target = Target::notice;
        if (value.kind != Value::Kind::text || !good_name(value.text))
            entry.fail(FindingCode::bad_name, value.source, model::fill("\"{}\" cannot name a notice", value.text),
                       "use a-z, 0-9, - and _, at most 64 of them");
        return;
    }
    const bool dial = action.verb == Verb::set && entry.any("to");
    action.target = dial ? Target::dial : action.verb == Verb::run ? Target::sequence : Target::sound;
    const auto index = dial                       ? look_up(entry, value, draft.dials, "dial")
                       : action.verb == Verb::run ? look_up(entry, value, draft.sequences, "sequence")
                                                  : look_up(entry, value, draft.sounds, "sound or clip");
    action.index = index.value_or(-1);
}

/// Checks the keys that only some verbs allow.
void check_extras(Entry& entry, const model::Action& action) {
    const auto only = [&](const char* key, bool fits, const char* with) {
        if (const Value* value = entry.any(key); value && !fits)
            entry.fail(FindingCode::unknown_key, value->source,
                       model::fill("`{}` does not go with {}", key, to_string(action.verb)),
                       model::fill("it goes with {}", with));
    };
    const bool gains = action.verb == Verb::set && action.target != Target::dial;
    only("gain", model::starts(action.verb) || gains, "play, hold, toggle, restart, and set of a sound or a bus");
    only("pitch", model::starts(action.verb), "play, hold, toggle and restart");
    only("for", model::starts(action.verb), "play, hold, toggle and restart");
    only("fade", action.verb == Verb::stop, "stop");
    only("fade-curve", action.verb == Verb::stop && entry.any("fade"), "stop with a fade");
    only("over", gains, "set of a sound or a bus");
    only("to", action.verb == Verb::set, "set of a dial");
    if (gains && !entry.any("gain") && entry.ok())
        entry.fail(FindingCode::missing_key, entry.source(), "neither a dial nor a gain to set",
                   "give `to` for a dial, or `gain` for a sound or a bus");
}

} // namespace

std::optional<model::Action> read_action(Draft& draft, Entry& entry, model::Source source, bool ends) {
    model::Action action;
    int found = 0;
    for (const Verb verb : verbs)
        if (const Value* value = entry.any(to_string(verb))) {
            ++found;
            action.verb = verb;
            read_target(draft, entry, *value, action);
        }
    if (entry.ok() && found != 1)
        entry.fail(FindingCode::missing_key, source, found ? "several actions in one table" : "no action given",
                   "write { play = \"…\" } or { stop = \"…\" }; write several actions as a list");
    if (found == 1) check_extras(entry, action);
    if (found == 1 && action.verb == Verb::hold && !ends)
        entry.fail(FindingCode::bad_value, source, "`hold` needs a trigger that ends",
                   "use `hold` with press, enter, key-down, contact, watch or scope-enter; or use play and stop");
    action.gain = entry.number("gain").value_or(0);
    action.pitch = entry.number("pitch").value_or(0);
    action.to = entry.number("to").value_or(0);
    action.over = entry.duration("over").value_or(action.over);
    action.fade = entry.duration("fade");
    action.curve = static_cast<FadeCurve>(entry.word("fade-curve").value_or(0));
    action.lasts = entry.duration("for");
    if (!entry.ok() || action.index < 0) return std::nullopt;
    action.number = draft.actions++;
    return action;
}

} // namespace kiai::reader
