// One play: its level, its pan, its handle.
#include "support/project_folder.h"

#include <catch2/catch.hpp>

#include <cmath>
#include <limits>
#include <optional>

using namespace support;
using kiai::Outcome;

namespace {

/// Returns left and right of a play of a constant 0.1.
std::pair<float, float> sides(const std::string& keys, kiai::PlayOptions options = {}, int channels = 1) {
    const kiai::Project project =
        project_of(Signal(2000, 0.1f), "[sound.s]\ntakes = [\"tone\"]\n" + keys, 48000, channels);
    kiai::Engine engine(project, {.seed = 1});
    engine.play("s", options);
    const auto out = render(engine, 600);
    return {out[1000], out[1001]};
}

std::vector<kiai::Decision> decisions_of(kiai::Engine& engine) {
    std::vector<kiai::Decision> log;
    engine.set_log([&](const kiai::Decision& decision) { log.push_back(decision); });
    engine.poll();
    engine.set_log({});
    return log;
}

} // namespace

TEST_CASE("Gains in dB add up: clip, sound, layer and call", "[play]") {
    CHECK(db(sides("gain = -6").first / 0.1) == Approx(-6).margin(1e-3));
    CHECK(db(sides("gain = -6", {.gain = -3}).first / 0.1) == Approx(-9).margin(1e-3));
    const ProjectFolder folder("[clip]\ntone = { file = \"tone.wav\", gain = -2 }\n[sound.s]\ngain = "
                               "-3\n[[sound.s.layer]]\ntakes = [\"tone\"]\ngain = -4\n");
    folder.write_wav("tone.wav", Signal(2000, 0.1f));
    kiai::Engine engine(folder.load(), {.seed = 1});
    engine.play("s", {.gain = -1});
    CHECK(db(render(engine, 600)[1000] / 0.1) == Approx(-10).margin(1e-3));
}

TEST_CASE("A mono clip is panned at constant power", "[play]") {
    CHECK(sides("pan = 0") == std::pair(0.1f, 0.1f));
    CHECK(db(sides("pan = -1").first / 0.1) == Approx(3.0103).margin(1e-3));
    CHECK(sides("pan = -1").second == 0);
    CHECK(sides("pan = 1").first == 0);
    for (const float pan : {-0.9f, -0.3f, 0.2f, 0.7f}) {
        const auto [left, right] = sides("", {.pan = pan});
        CHECK(left * left + right * right == Approx(0.02).epsilon(1e-5));
    }
    CHECK(sides("pan = 0.8", {.pan = 0.9f}).first == 0); // pans add, and are held at the end
}

TEST_CASE("A stereo clip is balanced: the near side stays", "[play]") {
    CHECK(sides("pan = 0", {}, 2) == std::pair(0.1f, 0.1f));
    const auto [left, right] = sides("pan = -0.5", {}, 2);
    CHECK(left == 0.1f);
    CHECK(right == Approx(0.05f));
    CHECK(sides("pan = 1", {}, 2).first == 0);
}

TEST_CASE("Follows move gain, pitch and pan along their curves", "[play]") {
    const std::string follow =
        "follow = [{ value = \"strength\", target = \"gain\", curve = [[0, -36], [0.5, -6], [1, 0]] }]\n";
    CHECK(db(sides(follow, {.strength = 1}).first / 0.1) == Approx(0).margin(1e-3));
    CHECK(db(sides(follow, {.strength = 0.5f}).first / 0.1) == Approx(-6).margin(1e-3));
    CHECK(db(sides(follow, {.strength = 0.25f}).first / 0.1) == Approx(-21).margin(1e-3));
    CHECK(db(sides(follow, {.strength = 7}).first / 0.1) == Approx(0).margin(1e-3)); // the end value holds
    const std::string pan = "follow = [{ value = \"place\", target = \"pan\", curve = [[-1, -1], [1, 1]] }]\n";
    CHECK(sides(pan, {.place = 1}).first == 0);
    CHECK(sides(pan, {.place = 0}) == std::pair(0.1f, 0.1f));

    const kiai::Project project =
        project_of(sine(500, 0.3, 24000), "[sound.s]\ntakes = [\"tone\"]\nfollow = [{ value = \"strength\", target = "
                                          "\"pitch\", curve = [[0, -12], [1, 12]] }]\n");
    kiai::HearSettings settings;
    settings.options.strength = 0.75f;
    const Signal out = side(kiai::hear(project, "s", settings).samples, 0);
    CHECK(fit_sine(out, 500 * std::exp2(0.5), 200, out.size() - 200).snr_db() > 90);
}

TEST_CASE("Layers are mixed, and end as one play", "[play]") {
    const ProjectFolder folder("[clip]\nlow = \"low.wav\"\nhigh = \"high.wav\"\n[[sound.both.layer]]\ntakes = "
                               "[\"low\"]\n[[sound.both.layer]]\ntakes = [\"high\"]\ngain = -6\n");
    folder.write_wav("low.wav", Signal(1000, 0.2f));
    folder.write_wav("high.wav", Signal(3000, 0.1f));
    const kiai::Rehearsal heard = kiai::hear(folder.load(), "both");
    CHECK(heard.samples[1000] == Approx(0.2 + 0.1 * std::pow(10, -0.3)).epsilon(1e-4));
    CHECK(heard.samples[4000] == Approx(0.1 * std::pow(10, -0.3)).epsilon(1e-4));
    const auto ended = with_outcome(heard.decisions, Outcome::ended);
    REQUIRE(ended.size() == 1);
    CHECK(ended[0].length == 3000);
    CHECK(ended[0].level == Approx(db(0.25)).margin(0.01));
}

TEST_CASE("The measured level of a play is its output", "[play]") {
    for (const float gain : {0.0f, -12.0f, -40.0f}) {
        kiai::HearSettings settings;
        settings.options.gain = gain;
        const kiai::Rehearsal heard = kiai::hear(project_of(sine(440, 0.5, 9600)), "tone", settings);
        const double measured = with_outcome(heard.decisions, Outcome::ended).front().level;
        CHECK(measured == Approx(db(peak(side(heard.samples, 0)))).margin(0.01));
        // One level per 64 frames of the clock.
        REQUIRE(heard.levels.size() == 150);
        for (const kiai::PlayLevel& level : heard.levels) {
            float most = 0;
            for (std::size_t i = 0; i < 64; ++i)
                most = std::max(most, std::abs(heard.samples[2 * (static_cast<std::size_t>(level.frame) + i)]));
            CHECK(level.peak == Approx(most).epsilon(1e-5));
        }
    }
}

TEST_CASE("A handle knows its play from the call to the last frame", "[handle]") {
    kiai::Engine engine(project_of(Signal(1000, 0.1f)), {.seed = 1});
    kiai::Play play = engine.play("tone");
    CHECK(play.playing());
    render(engine, 999);
    CHECK(play.playing());
    render(engine, 1);
    CHECK_FALSE(play.playing());
    CHECK(play.reason() == kiai::EndReason::finished);

    kiai::Play stopped = engine.play("tone");
    render(engine, 10);
    stopped.stop(std::chrono::milliseconds(5));
    render(engine, 239);
    CHECK(stopped.playing());
    render(engine, 1);
    CHECK_FALSE(stopped.playing());
    CHECK(stopped.reason() == kiai::EndReason::stopped);

    CHECK_FALSE(kiai::Play().playing());
    kiai::Play unknown = engine.play("nothing-of-the-kind");
    CHECK(unknown.playing()); // asked, not answered yet
    render(engine, 1);
    CHECK_FALSE(unknown.playing());
}

TEST_CASE("A handle survives its engine", "[handle]") {
    std::optional<kiai::Engine> engine(std::in_place, project_of(Signal(48000, 0.1f)), kiai::EngineSettings{.seed = 1});
    kiai::Play play = engine->play("tone");
    const kiai::Play copy = play;
    engine.reset();
    CHECK_FALSE(play.playing());
    CHECK_FALSE(copy.playing());
    play.stop();
    play.set_gain(-3);
}

TEST_CASE("A stale handle does not reach a later play in its slot", "[handle]") {
    kiai::Engine engine(
        project_of(Signal(10, 0.1f), "[sound.hum]\ntakes = [\"tone\"]\nloop = true\nlimit = { plays = 100 }\n"),
        {.seed = 1, .voices = 16, .reports = 16});
    kiai::Play old = engine.play("tone");
    render(engine, 100);
    std::vector<kiai::Play> others;
    for (int i = 0; i < 200; ++i) { // more than there are slots
        others.push_back(engine.play("tone"));
        render(engine, 20);
    }
    kiai::Play hum = engine.play("hum");
    render(engine, 10);
    old.stop();
    for (kiai::Play& other : others) other.stop();
    render(engine, 2000);
    CHECK(hum.playing());
}

TEST_CASE("Two engines do not know of each other", "[play]") {
    kiai::Engine first(project_of(Signal(1000, 0.1f)), {.seed = 1}),
        second(project_of(Signal(1000, 0.2f)), {.seed = 1});
    first.play("tone");
    CHECK(render(first, 500)[900] == 0.1f);
    CHECK(peak(render(second, 500)) == 0);
}

TEST_CASE("A name that is missing is answered with the nearest", "[log]") {
    kiai::Engine engine(project_of(Signal(100, 0.1f), "[sound.oak-plank]\ntakes = [\"tone\"]\n"), {.seed = 1});
    engine.play("oak-plnak");
    engine.play("Tone.wav");
    engine.play("zzzzzzzzzz");
    render(engine, 10);
    const auto log = with_outcome(decisions_of(engine), Outcome::unknown_name);
    REQUIRE(log.size() == 3);
    CHECK(log[0].nearest == "oak-plank");
    CHECK(log[1].nearest == "tone");
    CHECK(log[2].nearest == "");
    CHECK(kiai::describe(log[0]).find("\"oak-plnak\"; did you mean \"oak-plank\"?") != std::string::npos);
}

TEST_CASE("Numbers that are none are left out, numbers out of range are held, and both are said", "[log]") {
    const float nan = std::numeric_limits<float>::quiet_NaN(), infinite = std::numeric_limits<float>::infinity();
    kiai::Engine engine(project_of(Signal(1000, 0.1f)), {.seed = 1});
    kiai::Play none = engine.play("tone", {.gain = nan});
    engine.press({nan, 0});
    engine.contact("a", "b", {.strength = infinite});
    kiai::Play loud = engine.play("tone", {.gain = 1000});
    render(engine, 10);
    loud.set_gain(nan);
    loud.stop(kiai::Seconds(nan));
    render(engine, 100);
    CHECK_FALSE(none.playing());
    CHECK(loud.playing());
    const auto log = decisions_of(engine);
    CHECK(with_outcome(log, Outcome::bad_number).size() == 5);
    CHECK(with_outcome(log, Outcome::out_of_range).size() == 1);
    const auto played = with_outcome(log, Outcome::played);
    REQUIRE(played.size() == 1);
    CHECK(played[0].layers[0].gain == 24);
    for (const float sample : render(engine, 500)) REQUIRE(std::isfinite(sample));
}

TEST_CASE("A report for a frame that has passed is served at once, and said", "[log]") {
    kiai::Engine engine(project_of(Signal(100, 0.1f)), {.seed = 1});
    render(engine, 1000);
    engine.report({kiai::ReportKind::play, "tone", {}, {}, 0, {}}, 5);
    render(engine, 10);
    const auto log = decisions_of(engine);
    CHECK(with_outcome(log, Outcome::late).size() == 1);
    REQUIRE(with_outcome(log, Outcome::played).size() == 1);
    CHECK(with_outcome(log, Outcome::played)[0].frame == 1000);
}

TEST_CASE("A full ring loses the newest reports, says so, and continues", "[log]") {
    kiai::Engine engine(project_of(Signal(100, 0.1f), "[sound.s]\ntakes = [\"tone\"]\nlimit = { plays = 1000 }\n"),
                        {.seed = 1, .reports = 16});
    bool all = true;
    for (int i = 0; i < 20; ++i) all = engine.report({kiai::ReportKind::play, "s", {}, {}, 0, {}}) && all;
    CHECK_FALSE(all);
    const kiai::Play refused = engine.play("s");
    CHECK_FALSE(refused.playing());
    render(engine, 10);
    const auto log = decisions_of(engine);
    CHECK(with_outcome(log, Outcome::played).size() == 16);
    REQUIRE(with_outcome(log, Outcome::ring_full).size() == 1);
    CHECK(with_outcome(log, Outcome::ring_full)[0].count == 5);
    CHECK(engine.report({kiai::ReportKind::play, "s", {}, {}, 0, {}}));
}

TEST_CASE("A log that nobody reads loses the newest, and says how many", "[log]") {
    kiai::Engine engine(project_of(Signal(1, 0.1f)), {.seed = 1});
    for (int i = 0; i < 40000; ++i) {
        engine.notice("nobody-listens");
        if (i % 1000 == 0) render(engine, 1);
    }
    render(engine, 1);
    const auto before = decisions_of(engine);
    engine.notice("nobody-listens");
    render(engine, 1);
    const auto after = decisions_of(engine);
    REQUIRE(after.size() == 2);
    CHECK(after[0].outcome == Outcome::log_full);
    CHECK(before.size() + after[0].count == 40000);
}

TEST_CASE("Settings out of range are taken as the nearest", "[play]") {
    kiai::Engine engine(kiai::Project(), {.sample_rate = 1, .seed = 1, .voices = -3, .reports = 0});
    CHECK(engine.sample_rate() == 8000);
    CHECK(peak(render(engine, 100)) == 0);
    CHECK(kiai::Engine(kiai::Project(), {.sample_rate = 1 << 30}).sample_rate() == 192000);
}

TEST_CASE("The clock is moved by render alone", "[play]") {
    kiai::Engine engine(kiai::Project(), {.seed = 1});
    CHECK(engine.now() == 0);
    render(engine, 1234, 77);
    CHECK(engine.now() == 1234);
    engine.render({});
    CHECK(engine.now() == 1234);
}
