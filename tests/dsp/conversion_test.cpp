// Clips at another rate than the engine's are converted once, and then play like any other.
#include "support/project_folder.h"

#include <catch2/catch.hpp>

#include <cmath>
#include <string>

using namespace support;

namespace {

constexpr double half = 0.501187; // -6 dBFS

/// Returns the left side of one play of `tone`.
Signal heard(const kiai::Project& project, const kiai::PlayOptions& options = {}, int rate = 48000) {
    kiai::HearSettings settings;
    settings.options = options;
    settings.sample_rate = rate;
    return side(kiai::hear(project, "tone", settings).samples, 0);
}

kiai::Project one_second(double frequency, int rate, const std::string& text = {}) {
    return project_of(sine(frequency, half, static_cast<std::size_t>(rate), rate), text, rate);
}

} // namespace

TEST_CASE("A clip of another rate keeps its level to 0.95 of the lower half rate, and has nothing else", "[quality]") {
    for (const int rate : {8000, 11025, 22050, 32000, 44100, 88200, 96000, 192000})
        for (const double part : {0.01, 0.3, 0.6, 0.9, 0.95}) {
            const double frequency = part * std::min(rate, 48000) / 2;
            const Signal out = heard(one_second(frequency, rate));
            const Fit fit = fit_sine(out, frequency, 2000, out.size() - 2000);
            INFO(rate << ": " << frequency << " Hz, " << fit.snr_db() << " dB");
            CHECK(std::abs(db(fit.amplitude / half)) <= 0.01);
            CHECK(fit.snr_db() >= 110);
            CHECK(out.size() == 48000);
        }
}

TEST_CASE("Content above half of the engine's rate leaves nothing", "[quality]") {
    for (const int rate : {88200, 96000, 192000})
        for (const double frequency : {25201.0, 30000.0, 40000.0, 43000.0}) {
            INFO(rate << ": " << frequency << " Hz");
            const Signal out = heard(one_second(frequency, rate));
            CHECK(db(rms(out, 2000, out.size() - 2000)) <= -110);
        }
}

TEST_CASE("A clip whose rate has no small ratio to the engine's stays as it came", "[quality]") {
    for (const int rate : {44056, 47999, 48001, 37801})
        for (const double part : {0.05, 0.8}) {
            const double frequency = part * std::min(rate, 48000) / 2;
            const kiai::Project project = one_second(frequency, rate);
            const Signal out = heard(project);
            const Fit fit = fit_sine(out, frequency, 2000, out.size() - 2000);
            INFO(rate << ": " << frequency << " Hz, " << fit.snr_db() << " dB");
            CHECK(fit.snr_db() >= 96);
            CHECK(std::abs(db(fit.amplitude / half)) <= 0.1);
            CHECK(kiai::Engine(project).load().memory == static_cast<std::size_t>(rate) * 4);
        }
}

TEST_CASE("Clips of very many rates take neither long nor much", "[quality]") {
    std::string toml = "format = 1\n[clip]\n";
    const ProjectFolder folder(toml);
    for (int i = 0; i < 400; ++i) {
        const std::string name = "c" + std::to_string(i);
        folder.write_wav(name + ".wav", Signal(100, 0.1f), 24000 + 25 * i);
        toml += name + " = \"" + name + ".wav\"\n";
    }
    folder.write("kiai.toml", toml);
    const kiai::Project project = folder.load();
    kiai::Engine engine(project, {.seed = 1});
    CHECK(engine.load().memory <= project.memory() + 32 * 201 * 4);
    for (int i = 0; i < 400; i += 7) engine.play("c" + std::to_string(i));
    CHECK(peak(side(render(engine, 480), 0)) > 0.5);
}

TEST_CASE("An engine of another rate converts to that", "[quality]") {
    for (const int rate : {8000, 22050, 44100, 96000}) {
        const Signal out = heard(one_second(997, 48000), {}, rate);
        const Fit fit = fit_sine(out, 997, 1000, out.size() - 1000, rate);
        INFO(rate << ": " << fit.snr_db() << " dB");
        CHECK(fit.snr_db() >= 110);
        CHECK(out.size() == static_cast<std::size_t>(rate));
    }
}

TEST_CASE("A clip that loops stays as it came, so that no turn is longer than another", "[quality]") {
    // 441 frames at 44.1 kHz are ten cycles of 1 kHz. At 48 kHz 147 frames would become 160, and 100 no whole number.
    Signal cycle = sine(1000, half, 44100, 44100);
    cycle.resize(44100 / 100 * 7 + 2646); // 5,733 frames: 130 cycles, and 6,240 frames of output
    const auto seams = [](const Signal& out) { return fit_sine(out, 1000, 200, out.size() - 200).snr_db(); };
    const Signal written = heard(project_of(cycle, "[sound.tone]\ntakes = [\"tone\"]\nloop = { count = 9 }\n", 44100));
    CHECK(seams(written) >= 96);
    CHECK(written.size() == 9 * 6240);
    const kiai::Project once = project_of(cycle, {}, 44100);
    const Signal asked = heard(once, {.loop = 9});
    CHECK(seams(asked) >= 96);
    CHECK(asked.size() == 9 * 6240);
    CHECK(heard(once).size() == 6240);
}

TEST_CASE("With rate = \"own\" a clip keeps what is above half of the engine's rate for a play at a lower pitch",
          "[quality]") {
    const Signal high = sine(30000, half, 96000, 96000);
    const ProjectFolder folder("[clip]\nengine = \"tone.wav\"\nown = { file = \"tone.wav\", rate = \"own\" }\n"
                               "[sound.engine]\ntakes = [\"engine\"]\npitch = -12\n"
                               "[sound.own]\ntakes = [\"own\"]\npitch = -12\n");
    folder.write_wav("tone.wav", high, 96000);
    const kiai::Project project = folder.load();
    const Signal own = side(kiai::hear(project, "own").samples, 0),
                 engine = side(kiai::hear(project, "engine").samples, 0);
    CHECK(std::abs(db(fit_sine(own, 15000, 500, own.size() - 500).amplitude / half)) <= 0.1);
    CHECK(own.size() == 96000);
    CHECK(db(rms(engine, 2000, engine.size() - 2000)) <= -100);
    CHECK(engine.size() == 96000);
}

TEST_CASE("An engine reports what its converted clips need", "[quality]") {
    const auto memory = [](const std::string& keys, int rate) {
        const ProjectFolder folder("[clip]\ntone = { file = \"tone.wav\"" + keys + " }\n");
        folder.write_wav("tone.wav", sine(997, half, 22050, 22050), 22050);
        const kiai::Project project = folder.load();
        CHECK(project.memory() == 22050 * 4);
        return kiai::Engine(project, {.sample_rate = rate}).load().memory;
    };
    CHECK(memory("", 22050) == 22050 * 4);
    CHECK(memory("", 48000) == (22050 + 48000) * 4);
    CHECK(memory(", rate = \"own\"", 48000) == 22050 * 4);
    CHECK(memory(", stream = true", 48000) <= 22050 * 4);
}

TEST_CASE("Places in a converted clip are those of its file", "[quality]") {
    Signal steps(44100, 0.1f); // silence, then a level from half a second on
    std::fill_n(steps.begin(), 22050, 0.0f);
    const std::string text = "[sound.seconds]\ntakes = [\"tone\"]\nstart = \"500 ms\"\n"
                             "[sound.frames]\ntakes = [\"tone\"]\nstart = \"22050 frames\"\n";
    const kiai::Project project = project_of(steps, text, 44100);
    for (const std::string sound : {"seconds", "frames"}) {
        const Signal out = side(kiai::hear(project, sound).samples, 0);
        CHECK(out.size() == 24000);
        CHECK(rms(out, 400, 23000) == Approx(0.1).epsilon(0.001));
    }
    kiai::Engine engine(project, {.seed = 1});
    kiai::Play play = engine.play("tone", {.start = kiai::Seconds(0.25)});
    (void)play.position(); // from now on the engine writes it down
    Signal out = side(render(engine, 480), 0);
    CHECK(play.position().count() == Approx(0.26).epsilon(0.001));
    play.seek(kiai::Seconds(0.75));
    out = side(render(engine, 4800), 0);
    CHECK(rms(out, 2400, 4800) == Approx(0.1).epsilon(0.001));
    CHECK(play.position().count() == Approx(0.85).epsilon(0.02));
}

TEST_CASE("A project that changes while it plays keeps its converted clips", "[quality]") {
    const Signal tone = sine(997, half, 44100, 44100);
    const ProjectFolder folder("[clip]\ntone = \"tone.wav\"\n");
    folder.write_wav("tone.wav", tone, 44100);
    kiai::Engine engine(folder.load(), {.seed = 1});
    const kiai::Play play = engine.play("tone");
    Signal out = side(render(engine, 10000), 0);
    folder.toml("[clip]\ntone = { file = \"tone.wav\", rate = \"own\" }\n");
    engine.set_project(kiai::load_project(folder.path()).project);
    const Signal rest = side(render(engine, 38000), 0);
    out.insert(out.end(), rest.begin(), rest.end());
    engine.poll(); // what is no longer in use goes
    CHECK(fit_sine(out, 997, 2000, 46000).snr_db() >= 110);
    CHECK_FALSE(play.playing());
    CHECK(engine.load().memory == 44100 * 4);
}
