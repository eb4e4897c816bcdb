// Loops: seams that cannot be found, and lengths that are exact.
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
    // A WAV of 16 bits by hand: 100 frames of a ramp.
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
