#include <kiai/workshop/log.h>

namespace kiai::inline v0 {

const std::vector<LogField>& log_fields() {
    static const std::vector<LogField> fields{
        {"frame", "integer", "", "The frame on the engine's clock, before the output's latency."},
        {"at", "number", "", "The frame in seconds."},
        {"decision", "string", "", "The decision: one of the words above."},
        {"cause", "integer", "",
         "The number of the event, from 1: a call of the app, or something that the engine found out."},
        {"trigger", "string", "", "The kind of the event, such as `press` or `contact`."},
        {"on", "string", "", "The zone, key, kinds of body, motion and marker, condition, notice or name."},
        {"point", "array", "press", "Where the pointer was pressed: x and y."},
        {"from", "integer", "", "The cause that led to this one, such as a notice that another binding gave."},
        {"binding", "integer", "",
         "The number of the binding, from 1: those of `[[binding]]` first, then those inside zones."},
        {"sound", "string", "", "The sound that was played, refused, stopped or stolen."},
        {"play", "integer", "", "The number of the play, from 1."},
        {"for", "integer", "stolen", "The play that it was stolen for."},
        {"action", "object", "", "What the binding or sequence did."},
        {"action.verb", "string", "",
         "`play`, `hold`, `toggle`, `restart`, `stop`, `pause`, `resume`, `set`, `mute`, "
         "`unmute`, `notice`, `run` or `nothing`."},
        {"action.target", "string", "",
         "`none`, `sound`, `bus`, `scope`, `sequence`, `everything`, `dial` or `notice`."},
        {"action.name", "string", "", "The name of the target."},
        {"action.number", "number", "set", "The value of the dial, or the gain in dB."},
        {"rule", "string", "not-met, insert-off",
         "The condition that is false: `hopper-stock > 0`, `once`, `chance 0.5`; or the reason for the bypass of the "
         "insert."},
        {"value", "number",
         "not-met, bus-gain, bus-mute, ducked, insert-slow, play-gain, play-pitch, play-pan, play-set, "
         "play-seek",
         "Depends on the decision. The left side of the condition; a gain in dB; 1 for muted, or 0. The share of the "
         "block time that an insert takes. The new gain, pitch, pan, value or position of a play."},
        {"bus", "string", "ducked, duck-over, insert-off, insert-slow",
         "The bus that gets quieter, or returns to its gain, or has the insert."},
        {"under", "string", "ducked, duck-over", "The bus that has to sound for it."},
        {"limit", "object", "stolen, refused-limit, refused-gap", "The limit that decided."},
        {"limit.kind", "string", "", "`gap`, `sound`, `bus` or `engine`."},
        {"limit.name", "string", "", "The sound or bus that has the limit."},
        {"limit.full", "string", "",
         "What the limit does when it is full: `end-oldest`, `end-quietest`, `refuse`, "
         "`restart`; `stronger-contact`: a stronger contact of the same frame was preferred."},
        {"limit.measured", "number", "", "The number of plays that count; of a gap, the seconds since the last start."},
        {"limit.allowed", "number", "", "The maximum number of plays, or the minimum gap in seconds; 0: none."},
        {"excluded", "boolean", "unknown-name", "True: kiai.toml has the entry, but an error disables it."},
        {"layers", "array", "played", "The layers that are heard; empty: none (chance)."},
        {"layers[].clip", "string", "", "The clip that was picked."},
        {"layers[].label", "string", "", "The label of the layer."},
        {"layers[].take", "integer", "", "The number of the take, from 1."},
        {"layers[].of", "integer", "", "The number of takes."},
        {"layers[].pitch", "number", "", "Semitones, without what dials, values of the play and LFOs add."},
        {"layers[].gain", "number", "", "Gain in dB, without what dials, values of the play and LFOs add."},
        {"layers[].pan", "number", "", "Pan, -1 to 1, without what dials, values of the play and LFOs add."},
        {"layers[].delay", "integer", "", "Frames after the start of the play."},
        {"layers[].layer", "integer", "", "The number of the layer, from 1, if one before it is not heard."},
        {"reason", "string", "ended", "`finished`, `stopped`, `stolen`, `scope-left` or `changed`."},
        {"level", "number", "ended", "The peak of the sum of its layers, in dBFS."},
        {"length", "integer", "ended", "Frames from the first to the last."},
        {"counted", "integer", "ended", "Frames until it was stopped or stolen; limits count the play for that long."},
        {"by", "integer", "ended", "The cause that ended it early."},
        {"count", "integer", "stopped, done, names-full, ring-full, log-full, mix-lost",
         "The number of plays, or of reports, decisions or frames lost."},
        {"nearest", "string", "", "The nearest existing name."},
    };
    return fields;
}

} // namespace kiai::inline v0
