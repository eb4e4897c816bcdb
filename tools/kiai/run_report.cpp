#include "run_report.h"

#include <kiai/workshop/summary.h>

#include <array>
#include <cmath>

namespace kiai::tool {
namespace {

struct RunReport {
    const Rehearsal& rehearsal;
    Summary summary;
    const std::optional<Judged>& judged;
    const std::optional<Against>& against;
};

/// A decision of one of two runs.
struct Side {
    Frames frame = 0;
    std::string text;
};

Side side(const Decision& decision) {
    return {decision.frame, describe(decision)};
}

const char* kind_of(const Difference& difference) {
    static constexpr const char* kinds[] = {"gone", "new", "changed"};
    return kinds[static_cast<int>(difference.kind)];
}

} // namespace

static void describe_members(Shape<SoundSummary>& shape) {
    shape.has("name", "The name of the sound.", &SoundSummary::sound)
        .has("plays", "The number of plays.", &SoundSummary::plays)
        .has("refused", "The number of plays that were refused.", &SoundSummary::refused)
        .has("stolen", "The number of plays that were stolen.", &SoundSummary::stolen)
        .has("at-once", "The maximum number of plays at once.", &SoundSummary::most_at_once)
        .has("takes-heard", "The number of takes that were heard.", &SoundSummary::takes_heard)
        .has("takes", "The number of takes that the sound has.", &SoundSummary::takes)
        .has("pitch", "The lowest and the highest pitch of a layer, in semitones.",
             [](const SoundSummary& sound) {
                 return std::array{sound.least_pitch, sound.most_pitch};
             })
        .has("gain", "The lowest and the highest gain of a layer, in dB.",
             [](const SoundSummary& sound) {
                 return std::array{sound.least_gain, sound.most_gain};
             })
        .has("level", "The peak of the loudest play, in dBFS; -200: none.", &SoundSummary::peak);
}

static void describe_members(Shape<BusPeaks>& shape) {
    const auto decibels = [](auto member) {
        return [member](const BusPeaks& bus) {
            const float linear = bus.level.*member;
            return linear > 1e-10f ? 20 * std::log10(linear) : -200.0f;
        };
    };
    const auto of = [](auto member) { return [member](const BusPeaks& bus) { return bus.level.*member; }; };
    shape.has("name", "The name of the bus.", &BusPeaks::bus)
        .has("peak", "The peak in dBFS; of `main`, before the limiter; -200: silence.", decibels(&BusLevel::peak))
        .has("true-peak", "The true peak in dBTP.", decibels(&BusLevel::true_peak))
        .has("momentary", "The highest momentary loudness (400 ms) in LUFS; -200: silence.", of(&BusLevel::momentary))
        .has("short-term", "The highest short-term loudness (3 s) in LUFS.", of(&BusLevel::short_term))
        .has("reduction", "By how many dB the limiter lowered `main` at most; else 0.", of(&BusLevel::reduction));
}

static void describe_members(Shape<ExpectationResult>& shape) {
    shape.has("line", "The line of the expectation in its file.", &ExpectationResult::line)
        .has("met", "true: the run is as expected.", &ExpectationResult::holds)
        .has("expected", "What was expected.", &ExpectationResult::expected)
        .has("happened", "What happened.", &ExpectationResult::happened)
        .has("from", "The first frame of the part of the run that shows it.", &ExpectationResult::from)
        .has("to", "The last frame of that part.", &ExpectationResult::to);
}

static void describe_members(Shape<Side>& shape) {
    shape.has("frame", "The frame of the decision.", &Side::frame).has("text", "The decision in words.", &Side::text);
}

static void describe_members(Shape<Difference>& shape) {
    shape.has("kind", "How the decision differs.", kind_of)
        .one_of({"gone", "new", "changed"})
        .has("what", "What changed: `takes`, `pitch`, `level` …",
             [](const Difference& one) { return one.what.empty() ? std::nullopt : std::optional(one.what); })
        .has("before", "The decision of the earlier run; missing if it is new.",
             [](const Difference& one) {
                 return one.kind == Difference::Kind::added ? std::nullopt : std::optional(side(one.before));
             })
        .has("now", "The decision of this run; missing if it is gone.", [](const Difference& one) {
            return one.kind == Difference::Kind::gone ? std::nullopt : std::optional(side(one.now));
        });
}

static void describe_members(Shape<Against>& shape) {
    shape
        .has("alike", "The number of decisions that are the same in both runs.",
             [](const Against& against) { return against.found.alike; })
        .has("entries", "The entries of the project that differ, a line each.", &Against::entries)
        .has("differences", "The decisions that differ.", [](const Against& against) { return against.found.all; });
}

static void describe_members(Shape<RunReport>& shape) {
    const auto run = [](auto member) {
        return [member](const RunReport& report) { return std::invoke(member, report.rehearsal); };
    };
    const auto sum = [](auto member) {
        return [member](const RunReport& report) { return std::invoke(member, report.summary); };
    };
    shape.has("frames", "The length of the run in frames.", run(&Rehearsal::length))
        .has("rate", "Frames per second.", run(&Rehearsal::sample_rate))
        .has("seed", "The seed of all chance.", run(&Rehearsal::seed))
        .has("triggers", "The number of triggers.", sum(&Summary::triggers))
        .has("unanswered", "The number of triggers that no zone and no binding answered.", sum(&Summary::unanswered))
        .has("endless", "The sounds that would never end and were faded out.", run(&Rehearsal::endless))
        .has("sounds", "The sounds, in the order in which they were first asked for.", sum(&Summary::sounds))
        .has("buses", "The levels of the buses.", run(&Rehearsal::buses))
        .has("expectations", "How the run meets the expectations; only with `--expect`.",
             [](const RunReport& report) { return report.judged ? std::optional(report.judged->met) : std::nullopt; })
        .has("against", "How the run differs from an earlier one; only with `--baseline`.",
             [](const RunReport& report) { return report.against; });
}

const Document rehearse_document{"rehearse", "The run of `kiai rehearse --json` and `kiai demo --json`", 1,
                                 [] { return shape_of<RunReport>().schema(); }};

std::string print_run(const Rehearsal& rehearsal, const std::optional<Judged>& judged,
                      const std::optional<Against>& against) {
    return print_document(rehearse_document, RunReport{rehearsal, summarise(rehearsal), judged, against});
}

} // namespace kiai::tool
