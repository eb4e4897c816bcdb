// Measures the cost of a voice: the first three rows of the table in docs/performance.md.
//   build/release/bin/kiai_bench [--benchmark_out=voices.json]
#include "ratios.h"

#include <kiai/engine.h>
#include <kiai/load.h>

#include <benchmark/benchmark.h>

#include <samplerate.h>
#include <sndfile.h>

#include <chrono>
#include <cmath>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <memory>
#include <unistd.h>

namespace {

constexpr int block = 256;
constexpr std::size_t clip_frames = 48000 * 4;

/// A float clip of noise, and sounds that loop it at several pitches. `other` plays the clip once, as if it had been
/// recorded at 44.1 kHz.
struct Folder {
    std::filesystem::path path = std::filesystem::temp_directory_path() / ("kiai-bench-" + std::to_string(getpid()));
    std::vector<float> clip;

    Folder() {
        std::filesystem::create_directories(path);
        std::uint32_t state = 1;
        for (std::size_t i = 0; i < clip_frames; ++i)
            clip.push_back(0.0005f *
                           static_cast<float>(static_cast<std::int32_t>(state = state * 1664525u + 1013904223u)) /
                           2147483648.0f);
        write("clip.wav", 48000, 1);
        write("other.wav", 44100, 6);
        std::ofstream toml(path / "kiai.toml");
        toml << "format = 1\n[clip]\nclip = \"clip.wav\"\nother = \"other.wav\"\n"
                "[sound.at-other]\ntakes = [\"other\"]\nlimit = { plays = 1000 }\n";
        for (const char* more : {"", "-more", "-most"}) // a sound has at most 1,000 plays
            for (const int pitch : {0, 4, 12})
                toml << "[sound.at-" << pitch << more << "]\ntakes = [\"clip\"]\npitch = " << pitch
                     << "\nloop = true\nlimit = { plays = 1000 }\n";
    }
    ~Folder() { std::filesystem::remove_all(path); }

  private:
    void write(const char* name, int rate, int times) const {
        SF_INFO info{};
        info.samplerate = rate, info.channels = 1, info.format = SF_FORMAT_WAV | SF_FORMAT_FLOAT;
        SNDFILE* file = sf_open((path / name).string().c_str(), SFM_WRITE, &info);
        for (int i = 0; i < times; ++i) sf_writef_float(file, clip.data(), static_cast<sf_count_t>(clip.size()));
        sf_close(file);
    }
};

/// Returns work that renders one block of an engine with that many plays.
bench::Work voices(const kiai::Project& project, const std::string& which, int count) {
    auto engine =
        std::make_shared<kiai::Engine>(project, kiai::EngineSettings{.seed = 1, .voices = 4096, .reports = 4096});
    engine->set_log({});
    for (int i = 0; i < count; ++i) engine->play("at-" + which + (i < 1000 ? "" : i < 2000 ? "-more" : "-most"));
    auto out = std::make_shared<std::vector<float>>(2 * block);
    engine->render(*out);
    return [engine, out, count] {
        engine->render(*out);
        if (engine->sounding() != count) std::abort(); // else less would be measured
        benchmark::DoNotOptimize(out->data());
    };
}

/// Returns work that takes as long as a block lasts.
bench::Work real_time() {
    return [] {
        using Clock = std::chrono::steady_clock;
        for (const auto end = Clock::now() + std::chrono::microseconds(block * 1000000 / 48000); Clock::now() < end;) {
        }
    };
}

/// Returns work that converts one block of the same clip with libsamplerate.
bench::Work converter(const std::vector<float>& clip, int pitch, int kind) {
    int error = 0;
    std::shared_ptr<SRC_STATE> state(src_new(kind, 1, &error), &src_delete);
    auto at = std::make_shared<std::size_t>(0);
    auto out = std::make_shared<std::vector<float>>(block);
    const double ratio = 1 / std::exp2(pitch / 12.0);
    return [&clip, state, at, out, ratio] {
        for (long made = 0; made < block;) {
            SRC_DATA data{};
            data.data_in = clip.data() + *at;
            data.input_frames = static_cast<long>(clip.size() - *at);
            data.data_out = out->data() + made;
            data.output_frames = block - made;
            data.src_ratio = ratio;
            src_process(state.get(), &data);
            made += data.output_frames_gen;
            *at += static_cast<std::size_t>(data.input_frames_used);
            if (*at >= clip.size()) *at = 0;
        }
        benchmark::DoNotOptimize(out->data());
    };
}

/// Returns work of two multiply-adds per frame, written by hand, for that many voices over the same clip.
bench::Work by_hand(const std::vector<float>& clip, int count) {
    auto sides = std::make_shared<std::vector<float>>(2 * block);
    auto at = std::make_shared<std::size_t>(0);
    return [&clip, sides, at, count] {
        float* left = sides->data();
        float* right = left + block;
        if (*at + block > clip.size()) *at = 0;
        for (int v = 0; v < count; ++v) {
            const float* source = clip.data() + *at;
            const float gain_left = 0.5f + static_cast<float>(v & 1), gain_right = 0.25f;
            for (int i = 0; i < block; ++i) {
                left[i] += source[i] * gain_left;
                right[i] += source[i] * gain_right;
            }
            benchmark::ClobberMemory();
        }
        *at += block;
    };
}

} // namespace

int main(int count, char** arguments) {
    const Folder folder;
    const kiai::Project project = kiai::load_project(folder.path).project;
    static constexpr int many = 64, most = 1000;
    const double frames = (many - 1.0) * block, plain_frames = (most - 1.0) * block;
    const auto rows = [&](int pitch, int kind, const char* reference, const char* mark) {
        const bench::Work one = voices(project, std::to_string(pitch), 1),
                          all = voices(project, std::to_string(pitch), many);
        const bench::Work convert = converter(folder.clip, pitch, kind);
        return bench::Pair{"mono voice at +" + std::to_string(pitch) + " semitones, beside " + reference,
                           reference,
                           frames,
                           all,
                           [convert] {
                               for (int i = 0; i < many - 1; ++i) convert();
                           },
                           one,
                           {},
                           mark};
    };
    return bench::run(
        count, arguments,
        {rows(4, SRC_SINC_FASTEST, "SRC_SINC_FASTEST", ">= 30x"),
         rows(12, SRC_SINC_FASTEST, "SRC_SINC_FASTEST", ">= 40x"),
         rows(4, SRC_LINEAR, "SRC_LINEAR", ">= 1.5x"),
         rows(12, SRC_LINEAR, "SRC_LINEAR", ">= 1x"),
         {"2,500 voices at +4 semitones, beside real time",
          "256 frames of 48 kHz",
          1.0 * block,
          voices(project, "4", 2500),
          real_time(),
          {},
          {},
          ">= 1x"},
         {"unpitched voice, 1 to 1,000", "two multiply-adds by hand", plain_frames, voices(project, "0", most),
          by_hand(folder.clip, most), voices(project, "0", 1), by_hand(folder.clip, 1), ">= 0.8x"},
         {"the same, of a 44.1 kHz clip", "two multiply-adds by hand", plain_frames, voices(project, "other", most),
          by_hand(folder.clip, most), voices(project, "other", 1), by_hand(folder.clip, 1), ">= 0.8x"}});
}
