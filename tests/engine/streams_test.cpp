// Long clips that are read from the disk while they play sound the same as from memory, whatever the disk does.
#include "support/files_in_memory.h"
#include "support/project_folder.h"
#include "support/run_tool.h"
#include "support/sanitized.h"

#include <catch2/catch.hpp>

#include <sndfile.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <fstream>
#include <set>
#include <string>
#include <thread>
#include <unistd.h>

using namespace support;
using kiai::Outcome;

namespace {

void write_as(const std::filesystem::path& file, const Signal& samples, int channels, int format) {
    SF_INFO info{};
    info.samplerate = 48000, info.channels = channels, info.format = format;
    SNDFILE* out = sf_open(file.string().c_str(), SFM_WRITE, &info);
    REQUIRE(out);
    sf_writef_float(out, samples.data(), static_cast<sf_count_t>(samples.size()) / channels);
    sf_close(out);
}

/// Makes clips `held` and `read` of one file, in memory and streamed, and sounds of the same names with those keys.
kiai::Project both_ways(const ProjectFolder& folder, const std::string& file, const std::string& keys) {
    std::string text = "[clip]\n";
    for (const char* way : {"held", "read"})
        text += std::string(way) + "-clip = { file = \"" + file + "\", stream = " + (*way == 'r' ? "true" : "false") +
                " }\n";
    for (const char* way : {"held", "read"})
        text += std::string("[sound.") + way + "]\ntakes = [\"" + way + "-clip\"]\n" + keys;
    folder.toml(text);
    return folder.load();
}

std::vector<float> heard(const kiai::Project& project, const std::string& sound, kiai::Frames frames,
                         kiai::Frames block = 256, float pitch = 0, kiai::Frames stop = -1) {
    kiai::Engine engine(project, {.seed = 1, .synchronous_streams = true});
    engine.play(sound, {.pitch = pitch});
    if (stop >= 0) engine.report({kiai::ReportKind::stop, sound, {}, {}, 0, {}, 0}, stop);
    return render(engine, frames, block);
}

/// Loads the project of that folder, with its file `long.wav` read through a gate.
kiai::Project load_through(const std::shared_ptr<Gate>& gate, const ProjectFolder& folder) {
    const auto open =
        files_in_memory({{"kiai.toml", folder.read("kiai.toml")}, {"long.wav", folder.read("long.wav")}}, gate);
    return kiai::load_project("in-memory", {.open = open}).project;
}

/// Renders like an app: not much faster than real time, because no disk keeps up otherwise.
Signal render_in_time(kiai::Engine& engine, kiai::Frames frames) {
    Signal out;
    auto due = std::chrono::steady_clock::now();
    for (kiai::Frames done = 0; done < frames; done += 480) {
        const Signal part = side(render(engine, 480), 0);
        out.insert(out.end(), part.begin(), part.end());
        for (due += std::chrono::milliseconds(5); std::chrono::steady_clock::now() < due;) std::this_thread::yield();
    }
    return out;
}

long resident_bytes() {
    long all = 0, resident = 0;
    std::ifstream("/proc/self/statm") >> all >> resident;
    return resident * sysconf(_SC_PAGESIZE);
}

} // namespace

TEST_CASE("A streamed clip is the same as one in memory, in every format, pitched or not", "[streams]") {
    const ProjectFolder folder;
    const Signal samples = noise(0.3, 2 * 48000 * 5, 9); // five seconds of stereo
    const struct {
        const char* file;
        int format;
    } formats[] = {{"a.wav", SF_FORMAT_WAV | SF_FORMAT_PCM_16},    {"b.wav", SF_FORMAT_WAV | SF_FORMAT_FLOAT},
                   {"c.flac", SF_FORMAT_FLAC | SF_FORMAT_PCM_24},  {"d.ogg", SF_FORMAT_OGG | SF_FORMAT_VORBIS},
                   {"e.opus", SF_FORMAT_OGG | SF_FORMAT_OPUS},     {"f.mp3", SF_FORMAT_MPEG | SF_FORMAT_MPEG_LAYER_III},
                   {"g.wav", SF_FORMAT_WAV | SF_FORMAT_IMA_ADPCM}, {"h.aiff", SF_FORMAT_AIFF | SF_FORMAT_PCM_24}};
    for (const auto& [file, format] : formats) {
        write_as(folder.path() / file, samples, 2, format);
        const kiai::Project project = both_ways(folder, file, "");
        for (const float pitch : {0.0f, 5.0f}) {
            const auto in_memory = heard(project, "held", 260000, 256, pitch),
                       streamed = heard(project, "read", 260000, 256, pitch);
            INFO(file << ", pitch " << pitch);
            CHECK(in_memory == streamed);
            CHECK(rms(in_memory, 300000, 360000) > 0.1);
        }
    }
}

TEST_CASE("A stream loops with its seam and ends with its tail, as in memory, at any block size", "[streams]") {
    const ProjectFolder folder;
    folder.write_wav("a.wav", noise(0.3, 48000 * 6, 10));
    const kiai::Project project = both_ways(
        folder, "a.wav", "loop = { from = \"0.5 s\", to = \"2.5 s\", crossfade = \"50 ms\", end = \"tail\" }\n");
    const kiai::Frames frames = 48000 * 16;
    for (const kiai::Frames block : {256, 1000})
        CHECK(heard(project, "held", frames) == heard(project, "read", frames, block));
    // A stream is read ahead, so the play may end with a later turn; every turn is whole all the same.
    const auto ended = heard(project, "read", frames, 256, 0, 48000);
    CHECK(peak(Signal(ended.end() - 48000, ended.end())) == 0);
    const auto held = heard(project, "held", frames);
    const auto length = static_cast<std::ptrdiff_t>(2 * 48000 * 2);
    CHECK(std::equal(ended.begin(), ended.begin() + length, held.begin()));
    CHECK(heard(project, "read", frames, 999, 0, 48000) == ended);
}

TEST_CASE("Several streams of one file go their own ways", "[streams]") {
    const ProjectFolder folder;
    folder.write_wav("a.wav", noise(0.1, 48000 * 4, 11));
    const kiai::Project project = both_ways(folder, "a.wav", "start = \"1.7 s\"\n");
    const auto of = [&](const std::string& sound) {
        kiai::Engine engine(project, {.seed = 1, .synchronous_streams = true});
        for (const kiai::Frames at : {0, 5000, 30000, 30001, 70000})
            engine.report({kiai::ReportKind::play, sound, {}, {}, 0, {}, 0}, at);
        return render(engine, 48000 * 4);
    };
    CHECK(of("held") == of("read"));
}

TEST_CASE("Long clips are streamed without being asked, short ones are not, and either can be forced", "[streams]") {
    const ProjectFolder folder;
    folder.write_wav("long.wav", Signal(48000 * 31, 0.1f));
    folder.write_wav("short.wav", Signal(48000 * 29, 0.1f));
    const auto memory_of = [&](const std::string& clip) {
        folder.toml("[clip]\na = " + clip + "\n");
        const std::size_t bytes = folder.load().memory();
        const std::string listed = kiai_tool("list . clips --json", folder.path()).out; // the choice is shown
        CHECK((listed.find("\"from\": \"disk\"") != std::string::npos) == (bytes == 48000 * 4));
        return bytes;
    };
    CHECK(memory_of("\"long.wav\"") == 48000 * 4);
    CHECK(memory_of("\"short.wav\"") == 48000 * 29 * 4);
    CHECK(memory_of("{ file = \"long.wav\", stream = false }") == 48000 * 31 * 4);
    CHECK(memory_of("{ file = \"short.wav\", stream = true }") == 48000 * 4);
}

TEST_CASE("Ten minutes take less than two megabytes while they play", "[streams]") {
    const ProjectFolder folder("[clip]\nlong = \"long.wav\"\n");
    write_as(folder.path() / "long.wav", noise(0.2, 2 * 48000 * 600, 12), 2, SF_FORMAT_WAV | SF_FORMAT_PCM_16);
    const kiai::Project project = folder.load();
    kiai::Engine engine(project, {.seed = 1, .synchronous_streams = true});
    std::vector<float> out(2 * 1024);
    engine.render(out);
    const long before = resident_bytes();
    engine.play("long");
    double loudest = 0;
    for (int i = 0; i < 599 * 48000 / 1024; ++i) {
        engine.render(out);
        loudest = std::max(loudest, peak(out));
    }
    CHECK(engine.sounding() == 1);
    CHECK(loudest > 0.15);
    if (!sanitized) CHECK(resident_bytes() - before < 2'000'000);
}

TEST_CASE("A disk that stalls is a short fade and a line in the log, never a wait", "[streams][threads]") {
    const ProjectFolder folder("[clip]\nlong = { file = \"long.wav\", stream = true }\n");
    const Signal source = sine(100, 0.5, 48000 * 8); // the fades can be seen, and where it continued
    folder.write_wav("long.wav", source);
    const auto gate = std::make_shared<Gate>();
    const kiai::Project project = load_through(gate, folder);
    gate->hold();
    kiai::Engine engine(project, {.seed = 1});
    std::vector<kiai::Decision> log;
    engine.set_log([&](const kiai::Decision& decision) { log.push_back(decision); });
    engine.play("long");
    const Signal before = side(render(engine, 48000 * 2), 0); // one second of head, then nothing comes
    engine.poll();
    REQUIRE(with_outcome(log, Outcome::stream_late).size() == 1);
    CHECK(describe(with_outcome(log, Outcome::stream_late)[0]) ==
          "play long: paused long #1: its clip is not read fast enough");
    CHECK(peak(Signal(before.begin() + 48200, before.end())) == 0);
    CHECK(engine.sounding() == 1);
    gate->wait_for_one();
    gate->let_go();
    Signal after;
    for (int i = 0; i < 1'000'000 && (after.empty() || peak(after) == 0); ++i) {
        after = side(render(engine, 64), 0);
        std::this_thread::yield();
    }
    REQUIRE(peak(after) > 0);
    const Signal rest = render_in_time(engine, 24000);
    after.insert(after.end(), rest.begin(), rest.end());
    CHECK(fit_sine(after, 100, 2400, 20000).snr_db() > 90); // it continues, whole
    double bend = 0;
    for (std::size_t i = 200; i + 1 < before.size(); ++i)
        bend = std::max(bend, std::abs(before[i + 1] - 2.0 * before[i] + before[i - 1]));
    CHECK(db(bend - std::pow(2 * pi * 100 / 48000, 2) * 0.5) <= -80);
    bend = 0;
    for (std::size_t i = 1; i + 1 < after.size(); ++i)
        bend = std::max(bend, std::abs(after[i + 1] - 2.0 * after[i] + after[i - 1]));
    CHECK(db(bend - std::pow(2 * pi * 100 / 48000, 2) * 0.5) <= -80);
}

TEST_CASE("A file that is slow to read delays its own stream and no other", "[streams]") {
    const ProjectFolder folder("[clip]\nslow = { file = \"slow.wav\", stream = true }\n"
                               "fast = { file = \"fast.wav\", stream = true }\n");
    const std::string wav = wav_bytes(sine(100, 0.4, 48000 * 4));
    const auto gate = std::make_shared<Gate>();
    const std::string toml = folder.read("kiai.toml");
    const kiai::OpenFile held = files_in_memory({{"slow.wav", wav}}, gate);
    const kiai::OpenFile free = files_in_memory({{"kiai.toml", toml}, {"fast.wav", wav}});
    const auto open = [&](const std::string& path) { return path.ends_with("slow.wav") ? held(path) : free(path); };
    const kiai::Project project = kiai::load_project("in-memory", {.open = open}).project;
    gate->hold();
    kiai::Engine engine(project, {.seed = 1});
    std::set<std::string> late;
    engine.set_log([&](const kiai::Decision& decision) {
        if (decision.outcome == Outcome::stream_late) late.insert(decision.sound);
    });
    engine.play("slow");
    static_cast<void>(render(engine, 480));
    gate->wait_for_one(); // its reader stalls from here on
    kiai::Play fast = engine.play("fast");
    const Signal out = render_in_time(engine, 48000 * 5);
    engine.poll();
    CHECK(late == std::set<std::string>{"slow"});
    CHECK_FALSE(fast.playing());
    CHECK(fit_sine(out, 100, 48000 * 2, 48000 * 3).snr_db() > 90); // the fast one, without a hole
    gate->let_go();
}

TEST_CASE("A play that begins behind the head waits for the disk, in silence, and is heard whole",
          "[streams][threads]") {
    const ProjectFolder folder(
        "[clip]\nlong = { file = \"long.wav\", stream = true }\n[sound.s]\ntakes = [\"long\"]\nstart "
        "= \"3 s\"\n");
    folder.write_wav("long.wav", sine(100, 0.5, 48000 * 6));
    const auto gate = std::make_shared<Gate>();
    const kiai::Project project = load_through(gate, folder);
    gate->hold(); // it cannot even be opened
    kiai::Engine engine(project, {.seed = 1});
    engine.set_log({});
    kiai::Play play = engine.play("s");
    CHECK(peak(render(engine, 48000)) == 0);
    gate->wait_for_one();
    gate->let_go();
    Signal out;
    for (int i = 0; i < 1'000'000 && peak(out) == 0; ++i) {
        out = side(render(engine, 64), 0);
        std::this_thread::yield();
    }
    const Signal rest = render_in_time(engine, 48000 * 4);
    CHECK(fit_sine(rest, 100, 2400, 90000).snr_db() > 90);
    CHECK_FALSE(play.playing());
}

TEST_CASE("Where all streams are in use the least audible ends for one of the same or a higher priority", "[streams]") {
    const ProjectFolder folder("[clip]\nlong = { file = \"long.wav\", stream = true }\n[sound.first]\ntakes = "
                               "[\"long\"]\npriority = 10\n[sound.last]\ntakes = [\"long\"]\npriority = -10\n");
    folder.write_wav("long.wav", Signal(48000 * 2, 0.1f));
    kiai::Engine engine(folder.load(), {.seed = 1, .streams = 2, .synchronous_streams = true});
    std::vector<kiai::Decision> log;
    engine.set_log([&](const kiai::Decision& decision) { log.push_back(decision); });
    for (int i = 0; i < 3; ++i) engine.play(i == 2 ? "first" : "long");
    render(engine, 48000);
    engine.poll();
    REQUIRE(with_outcome(log, Outcome::stolen).size() == 1);
    CHECK(to_string(with_outcome(log, Outcome::stolen)[0].limit.value()) == "engine");
    CHECK(with_outcome(log, Outcome::stolen)[0].sound == "long");
    engine.play("last"); // of a lower priority than all: none ends for it
    engine.play("first");
    engine.play("first");
    render(engine, 100);
    engine.poll();
    REQUIRE(with_outcome(log, Outcome::refused_full).size() == 1);
    CHECK(with_outcome(log, Outcome::refused_full)[0].sound == "last");
    CHECK(with_outcome(log, Outcome::played).size() == 5);
    CHECK(with_outcome(log, Outcome::stolen).size() == 3); // of those alike the oldest
}

TEST_CASE("In step, a stream that ends makes room at that frame, whatever the blocks", "[streams]") {
    const ProjectFolder folder("[clip]\nlong = { file = \"long.wav\", stream = true }\n");
    folder.write_wav("long.wav", Signal(96000, 0.1f));
    const kiai::Project project = folder.load();
    for (const kiai::Frames block : {64, 256, 999, 96000, 96001, 100000}) {
        kiai::Engine engine(project, {.seed = 1, .streams = 1, .synchronous_streams = true});
        std::vector<kiai::Decision> log;
        engine.set_log([&](const kiai::Decision& decision) { log.push_back(decision); });
        for (const kiai::Frames at : {0, 96000, 96001}) // the last is as loud as the one that sounds, which ends
            engine.report({kiai::ReportKind::play, "long", {}, {}, 0, {}, 0}, at);
        render(engine, 100000, block);
        engine.poll();
        INFO("blocks of " << block);
        REQUIRE(with_outcome(log, Outcome::played).size() == 3);
        CHECK(with_outcome(log, Outcome::played)[1].frame == 96000);
        REQUIRE(with_outcome(log, Outcome::stolen).size() == 1);
        CHECK(with_outcome(log, Outcome::stolen)[0].frame == 96001);
    }
}

TEST_CASE("A file that is gone, or cut short, while it is streamed is silent from there on", "[streams]") {
    const ProjectFolder folder("[clip]\nlong = { file = \"long.wav\", stream = true }\n");
    folder.write_wav("long.wav", Signal(48000 * 4, 0.1f));
    const kiai::Project project = folder.load();
    std::filesystem::resize_file(folder.path() / "long.wav", 48000 * 4 * 2);
    const auto cut = heard(project, "long", 48000 * 5);
    CHECK(cut[2 * 48000] == 0.1f);
    CHECK(peak(Signal(cut.begin() + 2 * 48000 * 5 / 2, cut.end())) == 0);
    std::filesystem::remove(folder.path() / "long.wav");
    const auto gone = heard(project, "long", 48000 * 5);
    CHECK(gone[2 * 40000] == 0.1f);
    CHECK(peak(Signal(gone.begin() + 2 * 50000, gone.end())) == 0);
}
