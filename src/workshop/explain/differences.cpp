#include <kiai/workshop/differences.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <tuple>

namespace kiai::inline v0 {
namespace {

constexpr double near_seconds = 0.05;
constexpr double least_level = 0.05, least_number = 0.001;

/// What a decision is about, without numbers that vary between runs.
using DecisionKey = std::tuple<int, int, std::string, std::string, std::string>;

DecisionKey key_of(const Decision& d) {
    const bool ended = d.outcome == Outcome::ended;
    return {static_cast<int>(d.outcome), ended ? 0 : static_cast<int>(d.trigger), ended ? std::string() : d.on, d.sound,
            ended || !d.action ? std::string() : to_string(*d.action)};
}

bool differ(double a, double b, double least) {
    return std::abs(a - b) > least; // false of two that are no numbers
}

void add(std::string& what, const char* word) {
    what += (what.empty() ? "" : ", ") + std::string(word);
}

std::string limit_of(const Decision& d) {
    return d.limit ? to_string(*d.limit) + ' ' + to_string(d.limit->full) : std::string();
}

/// Describes the differences between two decisions about the same thing; empty if there are none.
std::string compared(const Decision& a, const Decision& b) {
    std::string what;
    if (a.frame != b.frame) add(what, "when");
    bool takes = a.layers.size() != b.layers.size(), pitch = false, gain = false, pan = false, delay = false;
    for (std::size_t l = 0; l < std::min(a.layers.size(), b.layers.size()); ++l) {
        const LayerTake &x = a.layers[l], &y = b.layers[l];
        takes = takes || x.clip != y.clip;
        pitch = pitch || differ(x.pitch, y.pitch, least_number);
        gain = gain || differ(x.gain, y.gain, least_number);
        pan = pan || differ(x.pan, y.pan, least_number);
        delay = delay || x.delay != y.delay;
    }
    if (takes) add(what, "takes");
    if (pitch) add(what, "pitch");
    if (gain) add(what, "gain");
    if (pan) add(what, "pan");
    if (delay) add(what, "delay");
    if (limit_of(a) != limit_of(b) || a.rule != b.rule) add(what, "rule");
    if (a.count != b.count) add(what, "count");
    if (a.outcome == Outcome::not_met && differ(a.value, b.value, least_number)) add(what, "value");
    if (a.outcome != Outcome::ended) return what;
    if (a.reason != b.reason) add(what, "reason");
    if (differ(a.level, b.level, least_level)) add(what, "level");
    if (a.length != b.length) add(what, "length");
    return what;
}

} // namespace

Differences differences(const Rehearsal& before, const Rehearsal& now) {
    Differences found;
    std::map<DecisionKey, std::vector<const Decision*>> waiting; // of `before`, in order of frames
    for (const Decision& decision : before.decisions) waiting[key_of(decision)].push_back(&decision);
    std::map<DecisionKey, std::size_t> next;
    const auto near = static_cast<Frames>(near_seconds * now.sample_rate);
    for (const Decision& decision : now.decisions) {
        const DecisionKey key = key_of(decision);
        const auto& candidates = waiting[key];
        std::size_t& at = next[key];
        for (; at < candidates.size() && candidates[at]->frame < decision.frame - near; ++at)
            found.all.push_back({Difference::Kind::gone, *candidates[at], {}, {}});
        if (at == candidates.size() || candidates[at]->frame > decision.frame + near) {
            found.all.push_back({Difference::Kind::added, {}, decision, {}});
            continue;
        }
        const Decision& other = *candidates[at++];
        if (std::string what = compared(other, decision); what.empty())
            ++found.alike;
        else
            found.all.push_back({Difference::Kind::changed, other, decision, std::move(what)});
    }
    for (const auto& [key, candidates] : waiting)
        for (std::size_t at = next[key]; at < candidates.size(); ++at)
            found.all.push_back({Difference::Kind::gone, *candidates[at], {}, {}});
    const auto frame_of = [](const Difference& one) {
        return one.kind == Difference::Kind::gone ? one.before.frame : one.now.frame;
    };
    std::stable_sort(found.all.begin(), found.all.end(),
                     [&](const Difference& a, const Difference& b) { return frame_of(a) < frame_of(b); });
    return found;
}

} // namespace kiai::inline v0
