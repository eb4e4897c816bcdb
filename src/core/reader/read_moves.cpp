// Reads what changes a sound before and during its play: `follow` and `lfo`.
#include "core/dsp/tone.h"
#include "core/model/fill.h"
#include "core/reader/project_reader.h"

namespace kiai::reader {
namespace {

constexpr const char* follow_example =
    "write follow = [{ value = \"strength\", target = \"gain\", curve = [[0, -36], [1, 0]] }]";
constexpr const char* curve_example = "write curve = [[0, -36], [1, 0]]";

/// Returns the key whose range limits the values of a curve; the balance has a range of its own.
const Key& amounts_of(model::FollowTarget target) {
    static const Key balance{"curve", "follow", Takes::number, 0, 1, "first to last layer", "", "", "", ""},
        depth{"curve", "follow", Takes::number, -60, 60, "", "", "", "", ""},
        rate{"curve", "follow", Takes::number, -50, 50, "", "", "", "", ""};
    static const char* const names[] = {"gain", "pitch", "pan", "low-pass", "high-pass"};
    if (target == model::FollowTarget::balance) return balance;
    if (target == model::FollowTarget::depth) return depth;
    if (target == model::FollowTarget::rate) return rate;
    for (const Key& key : project_keys())
        if (std::string_view(key.parent) == "layer" && std::string_view(key.name) == names[static_cast<int>(target)])
            return key;
    return balance;
}

bool is_filter(model::FollowTarget target) {
    return target == model::FollowTarget::low_pass || target == model::FollowTarget::high_pass;
}

void read_curve(Entry& entry, model::Follow& follow) {
    const Value* curve = entry.list("curve");
    if (!curve) return entry.missing("curve", curve_example);
    Key along = amounts_of(model::FollowTarget::balance), amounts = amounts_of(follow.target);
    along.low = -1e6, along.high = 1e6, along.unit = "";
    amounts.name = "curve";
    std::vector<dsp::Point> points;
    for (const Value& point : curve->items) {
        if (point.kind != Value::Kind::list || point.items.size() != 2)
            return entry.fail(FindingCode::bad_value, point.source, "a point of a curve is a pair", curve_example);
        const auto x = entry.number_of(point.items[0], along), y = entry.number_of(point.items[1], amounts);
        if (!x || !y) return;
        if (!points.empty() && *x <= points.back().first)
            return entry.fail(FindingCode::bad_value, point.source, "the points of a curve do not ascend",
                              "order them by their first number");
        points.emplace_back(*x, is_filter(follow.target) ? dsp::octaves_of(*y) : *y);
    }
    if (points.size() < 2)
        return entry.fail(FindingCode::bad_value, curve->source, "a curve has fewer than two points", curve_example);
    follow.curve = dsp::Curve(std::move(points), entry.word("interpolation").value_or(0) == 1);
}

/// Reads the source of the value: a declared dial, the trigger, or a name that the app sets.
void read_value(Draft& draft, Entry& entry, model::Follow& follow) {
    const Value *dial = entry.any("dial"), *value = entry.any("value");
    if ((dial != nullptr) == (value != nullptr)) {
        if (entry.ok())
            entry.fail(FindingCode::missing_key, entry.source(),
                       dial ? "both `dial` and `value` are given" : "neither `dial` nor `value` is given",
                       "give one of them: value = \"strength\" or dial = \"fill\"");
        return;
    }
    if (dial) {
        follow.value = model::Value::dial;
        follow.dial = look_up(entry, *dial, draft.dials, "dial").value_or(-1);
        return;
    }
    const std::string name = entry.text("value").value_or("strength");
    follow.value = name == "strength" ? model::Value::strength
                   : name == "place"  ? model::Value::place
                                      : model::Value::own;
    follow.own = follow.value == model::Value::own ? name : "";
    if (!good_name(name))
        entry.fail(FindingCode::bad_name, value->source, model::fill("\"{}\" cannot name a value", name),
                   "use a-z, 0-9, - and _, at most 64 of them");
    else if (draft.dials.contains(name))
        entry.fail(FindingCode::bad_value, value->source, model::fill("\"{}\" is a dial", name),
                   model::fill("write dial = \"{}\"", name));
}

} // namespace

std::vector<model::Follow> read_follows(Draft& draft, Entry& entry, FollowsOf of) {
    std::vector<model::Follow> follows;
    const Value* list = entry.list("follow");
    if (!list) return follows;
    for (const Value& item : list->items) {
        if (item.kind != Value::Kind::table) {
            entry.fail(FindingCode::wrong_type, item.source, "`follow` must contain only tables", follow_example);
            return follows;
        }
        Entry inner(entry, item, "follow", ", follow");
        model::Follow follow;
        read_value(draft, inner, follow);
        if (const auto target = inner.word("target"))
            follow.target = static_cast<model::FollowTarget>(*target);
        else
            inner.missing("target", "a follow needs a value or a dial, a target and a curve");
        if (follow.target == model::FollowTarget::balance && of == FollowsOf::layer && inner.ok())
            inner.fail(FindingCode::bad_value, item.source, "a layer has no balance", "write this follow in the sound");
        const bool of_lfo = follow.target == model::FollowTarget::depth || follow.target == model::FollowTarget::rate;
        if (of_lfo != (of == FollowsOf::lfo) && inner.ok())
            inner.fail(FindingCode::bad_value, item.source,
                       of_lfo ? "only an LFO has a depth and a rate" : "a follow of an LFO moves only depth and rate",
                       "write lfo = [{ target = \"pitch\", rate = 5, depth = 0, follow = [{ dial = \"fill\", target = "
                       "\"depth\", curve = [[0, 0], [1, 0.5]] }] }]");
        if (of == FollowsOf::bus && inner.ok() && (!is_filter(follow.target) || follow.value != model::Value::dial))
            inner.fail(FindingCode::bad_value, item.source, "a follow of a bus needs a dial, and moves only filters",
                       "write follow = [{ dial = \"fill\", target = \"low-pass\", curve = [[0, 800], [1, 20000]] }]");
        read_curve(inner, follow);
        follow.smooth = inner.duration("smooth").value_or(follow.smooth);
        inner.finish();
        entry.close(inner);
        const bool dial_left_out = follow.value == model::Value::dial && follow.dial < 0;
        if (!dial_left_out) follows.push_back(std::move(follow));
    }
    return follows;
}

void read_cutoffs(Entry& entry, dsp::Cutoffs& cutoffs) {
    if (const auto hertz = entry.number("low-pass")) cutoffs.tighten_low_pass(dsp::octaves_of(*hertz));
    if (const auto hertz = entry.number("high-pass")) cutoffs.tighten_high_pass(dsp::octaves_of(*hertz));
}

std::vector<model::Lfo> read_lfos(Draft& draft, Entry& entry) {
    std::vector<model::Lfo> lfos;
    const Value* list = entry.list("lfo");
    if (!list) return lfos;
    for (const Value& item : list->items) {
        const char* fix = "write lfo = [{ target = \"pitch\", rate = 5, depth = 0.3 }]";
        if (item.kind != Value::Kind::table) {
            entry.fail(FindingCode::wrong_type, item.source, "`lfo` must contain only tables", fix);
            return lfos;
        }
        Entry inner(entry, item, "lfo", ", lfo");
        model::Lfo lfo;
        const auto target = inner.word("target");
        const auto rate = inner.number("rate"), depth = inner.number("depth");
        for (const char* key : {"target", "rate", "depth"})
            if (!item.find(key)) inner.missing(key, fix);
        lfo.target = static_cast<model::FollowTarget>(target.value_or(0));
        lfo.shape = static_cast<model::Lfo::Shape>(inner.word("shape").value_or(0));
        lfo.rate = rate.value_or(1);
        lfo.depth = depth.value_or(0);
        lfo.free = inner.word("phase").value_or(0) == 1;
        const auto most = [&](model::FollowTarget of, double high, const char* range) {
            if (lfo.target == of && lfo.depth > high)
                inner.fail(FindingCode::bad_value, item.find("depth")->source,
                           model::fill("`depth = {}` is out of range", lfo.depth), range);
        };
        most(model::FollowTarget::pitch, 24, "depth takes 0 to 24 semitones");
        most(model::FollowTarget::pan, 1, "depth takes 0 to 1 of pan");
        lfo.follows = read_follows(draft, inner, FollowsOf::lfo);
        if (lfo.free && lfo.moves_rate() && inner.ok())
            inner.fail(FindingCode::bad_value, item.find("phase")->source,
                       "an LFO with a moving rate always starts with the play", "remove `phase`");
        inner.finish();
        entry.close(inner);
        lfos.push_back(std::move(lfo));
    }
    return lfos;
}

} // namespace kiai::reader
