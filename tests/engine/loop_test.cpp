// Loops: inaudible loop points and exact lengths.
#include "support/project_folder.h"

#include <catch2/catch.hpp>

#include <cmath>

using namespace support;

namespace {

const char* loops = "[sound.round]\ntakes = [\"tone\"]\nloop = true\n";

Signal turns(const kiai::Project& project, float pitch, kiai::Frames frames) {
    kiai::Engine engine(project, {.seed = 1});
    engine.play("round", {.pitch = pitch});
    Signal out = side(render(engine, frames + engine.latency(), 4096), 0);
    out.erase(out.begin(), out.begin() + engine.latency());
    return out;
}

} // namespace

TEST_CASE("A thousand turns of a sine leave no seam", "[loop]") {
    const kiai::Project project = project_of(sine(1000, 0.5, 480), loops); // ten periods
    const Signal out = turns(project, 0, 480 * 1000);
    const Fit fit = fit_sine(out, 1000, 0, out.size());
    CHECK(db(fit.residue) <= -100);
    CHECK(fit.amplitude == Approx(0.5).epsilon(1e-5));
}

TEST_CASE("A thousand turns of a pitched sine leave no seam", "[loop]") {
    const kiai::Project project = project_of(sine(1000, 0.5, 480), loops);
    for (const float pitch : {-7.0f, -0.13f, 1.0f, 4.5f, 12.0f}) {
        const double ratio = std::exp2(static_cast<double>(pitch) / 12);
        const auto frames = static_cast<kiai::Frames>(480 * 1000 / ratio);
        const Signal out = turns(project, pitch, frames);
        const Fit fit = fit_sine(out, 1000 * ratio, 200, out.size());
        INFO(pitch << " semitones: residue " << db(fit.residue) << " dBFS");
        CHECK(db(fit.residue) <= -100);
    }
}

TEST_CASE("Every turn is as long as the clip", "[loop]") {
    for (const std::size_t length : {1u, 2u, 3u, 63u, 64u, 65u, 257u, 1000u}) {
        const Signal clip = noise(0.4, length, length);
        const Signal out = turns(project_of(clip, loops), 0, 5000);
        bool same = true;
        for (std::size_t i = 0; i < 5000; ++i) same = same && out[i] == clip[i % length];
        INFO("a clip of " << length << " frames");
        CHECK(same);
    }
}

TEST_CASE("A loop in sixteen bits turns as exactly", "[loop]") {
    const ProjectFolder folder("[clip]\ntone = \"tone.raw.wav\"\n" + std::string(loops));
    // A WAV of 16 bits, written by hand: 100 frames of a ramp.
    std::string data;
    for (int i = 0; i < 100; ++i) {
        const auto value = static_cast<std::int16_t>(i * 200 - 10000);
        data += {static_cast<char>(value & 0xff), static_cast<char>((value >> 8) & 0xff)};
    }
    const auto u32 = [](std::uint32_t v) {
        return std::string{static_cast<char>(v), static_cast<char>(v >> 8), static_cast<char>(v >> 16),
                           static_cast<char>(v >> 24)};
    };
    folder.write("tone.raw.wav", "RIFF" + u32(36 + 200) + "WAVEfmt " + u32(16) + std::string{1, 0, 1, 0} + u32(48000) +
                                     u32(96000) + std::string{2, 0, 16, 0} + "data" + u32(200) + data);
    const Signal out = turns(folder.load(), 0, 1000);
    for (std::size_t i = 0; i < out.size(); ++i)
        REQUIRE(out[i] == static_cast<float>(static_cast<int>(i % 100) * 200 - 10000) / 32768.0f);
}

TEST_CASE("A pitched play is as long as its ratio says", "[loop]") {
    const kiai::Project project = project_of(noise(0.3, 4800, 1));
    for (const float pitch : {-12.0f, -5.0f, 0.0f, 3.0f, 12.0f, 24.0f}) {
        kiai::HearSettings settings;
        settings.options.pitch = pitch;
        const kiai::Rehearsal heard = kiai::hear(project, "tone", settings);
        const auto expected =
            static_cast<kiai::Frames>(std::ceil(4800 / std::exp2(static_cast<double>(pitch) / 12) - 1e-9));
        CHECK(heard.length == expected);
        CHECK(with_outcome(heard.decisions, kiai::Outcome::ended).front().length == expected);
    }
}

namespace {

/// Appends frames from..to of a clip.
void append(Signal& out, const Signal& clip, std::size_t from, std::size_t to) {
    out.insert(out.end(), clip.begin() + static_cast<std::ptrdiff_t>(from),
               clip.begin() + static_cast<std::ptrdiff_t>(to));
}

std::string region(const std::string& rest) {
    std::string text = "[sound.round]\ntakes = [\"tone\"]\nloop = { from = \"200 frames\", to = \"500 frames\", ";
    text += rest;
    return text;
}

} // namespace

TEST_CASE("A region turns as often as it says, between its lead-in and its tail, to the frame", "[loop]") {
    const Signal clip = noise(0.4, 1000, 3);
    const kiai::Rehearsal heard = kiai::hear(project_of(clip, region("count = 3 }\n")), "round");
    Signal expected;
    append(expected, clip, 0, 500);
    append(expected, clip, 200, 500);
    append(expected, clip, 200, 1000);
    CHECK(heard.length == 1600);
    const Signal out = side(heard.samples, 0);
    for (std::size_t i = 0; i < expected.size() - 150; ++i) // the limiter sees a peak at the end of the clip
        if (out[i] != expected[i]) FAIL("frame " << i);
    CHECK(with_outcome(heard.decisions, kiai::Outcome::ended)[0].reason == kiai::EndReason::finished);
}

TEST_CASE("A stop lets a loop with a tail finish its turn, and play what follows", "[loop]") {
    Signal clip = noise(0.4, 9000, 4);
    const kiai::Project project = project_of(
        clip,
        "[sound.round]\ntakes = [\"tone\"]\nloop = { from = \"1000 frames\", to = \"5000 frames\", end = \"tail\" }\n");
    for (const kiai::Frames stop_at :
         {kiai::Frames(500), kiai::Frames(2000), kiai::Frames(4900), kiai::Frames(14000)}) {
        kiai::Engine engine(project, {.seed = 1});
        std::vector<kiai::Decision> log;
        engine.set_log([&](const kiai::Decision& decision) { log.push_back(decision); });
        engine.play("round");
        engine.report({kiai::ReportKind::stop, "round", {}, {}, 0, {}, 0}, stop_at);
        const Signal out = side(render(engine, 40000, 999), 0);
        engine.poll();
        CHECK(engine.sounding() == 0);
        REQUIRE(with_outcome(log, kiai::Outcome::ended).size() == 1);
        const kiai::Decision ended = with_outcome(log, kiai::Outcome::ended)[0];
        CHECK(ended.reason == kiai::EndReason::stopped);
        // The current turn, or the next one if reading its end has started.
        const std::size_t turns = stop_at < 3000 ? 1 : stop_at < 5000 ? 2 : 4;
        Signal expected;
        append(expected, clip, 0, 5000);
        for (std::size_t i = 1; i < turns; ++i) append(expected, clip, 1000, 5000);
        append(expected, clip, 5000, 9000);
        INFO("stopped at " << stop_at);
        CHECK(ended.length == static_cast<kiai::Frames>(expected.size()));
        for (std::size_t i = 0; i < expected.size() - 150; ++i)
            if (out[i + static_cast<std::size_t>(engine.latency())] != expected[i]) FAIL("frame " << i);
    }
}

TEST_CASE("A second stop of a tail, or a stop with a fade, cuts it short without a click", "[loop]") {
    const kiai::Project project = project_of(
        sine(100, 0.5, 48000), "[sound.round]\ntakes = [\"tone\"]\nloop = { to = \"24000 frames\", end = \"tail\" }\n");
    kiai::Engine engine(project, {.seed = 1});
    kiai::Play play = engine.play("round");
    render(engine, 1000);
    play.stop();
    render(engine, 1000);
    CHECK(engine.sounding() == 1);
    CHECK(engine.looping() == 0);
    play.stop(kiai::Seconds(0.01));
    const Signal out = side(render(engine, 4800), 0);
    CHECK(engine.sounding() == 0);
    CHECK(peak(Signal(out.begin() + 1000, out.end())) == 0);
}

TEST_CASE("A crossfade mixes the end of the loop into the frames before its start", "[loop]") {
    const Signal clip = noise(0.3, 1000, 5);
    const Signal out = turns(project_of(clip, region("crossfade = \"100 frames\" }\n")), 0, 2000);
    double both = 0, of_end = 0, of_begin = 0; // how alike the two are that are mixed
    for (std::size_t at = 400; at < 500; ++at) {
        both += static_cast<double>(clip[at]) * clip[at - 300];
        of_end += static_cast<double>(clip[at]) * clip[at];
        of_begin += static_cast<double>(clip[at - 300]) * clip[at - 300];
    }
    const double alike = both / std::sqrt(of_end * of_begin);
    for (std::size_t i = 0; i < out.size(); ++i) {
        const std::size_t at = i < 500 ? i : 200 + (i - 200) % 300;
        double expected = clip[at];
        if (at >= 400) {
            const double part = 0.5 + 0.5 * std::cos(pi * static_cast<double>(at - 400 + 1) / 101), rest = 1 - part;
            expected = (clip[at] * part + clip[at - 300] * rest) /
                       std::sqrt(part * part + rest * rest + 2 * alike * part * rest);
        }
        if (std::abs(out[i] - expected) > 1e-6) FAIL("frame " << i << ": " << out[i] << " for " << expected);
    }
    // The clip has nothing before its start, so the loop starts later by as much.
    const Signal whole =
        turns(project_of(clip, "[sound.round]\ntakes = [\"tone\"]\nloop = { crossfade = \"100 frames\" }\n"), 0, 2500);
    CHECK(whole[1000] == clip[100]);
    CHECK(whole[1900] == clip[100]);
    CHECK(whole[999] == Approx(clip[99]).margin(0.001));
}

TEST_CASE("A seam takes the click out of a loop whose ends do not meet", "[loop]") {
    const Signal clip = sine(103.7, 0.5, 20000);
    const auto bend = [&](const std::string& seam) {
        const Signal out =
            turns(project_of(clip, "[sound.round]\ntakes = [\"tone\"]\nloop = { from = \"4000 frames\", to = "
                                   "\"16013 frames\"" +
                                       seam + " }\n"),
                  0, 60000);
        double most = 0;
        for (std::size_t i = 10; i + 1 < out.size(); ++i)
            most = std::max(most, std::abs(out[i + 1] - 2.0 * out[i] + out[i - 1]));
        return db(most - 0.5 * std::pow(2 * pi * 103.7 / 48000, 2));
    };
    CHECK(bend("") > -30);
    CHECK(bend(", crossfade = \"20 ms\"") < -80);
}

TEST_CASE("A pitched region with a count is clean at every seam", "[loop]") {
    const Signal clip = sine(1000, 0.5, 48 * 1000);
    const kiai::Project project = project_of(
        clip,
        "[sound.round]\ntakes = [\"tone\"]\nloop = { from = \"480 frames\", to = \"960 frames\", count = 1000 }\n");
    for (const float pitch : {-5.0f, 3.0f, 12.0f}) {
        const double ratio = std::exp2(static_cast<double>(pitch) / 12);
        const auto frames = static_cast<kiai::Frames>((480 * 1001 - 500) / ratio);
        const Signal out = turns(project, pitch, frames);
        INFO(pitch);
        CHECK(db(fit_sine(out, 1000 * ratio, 200, out.size()).residue) <= -100);
    }
}
