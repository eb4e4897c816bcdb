// Loads two thousand clips of mixed formats. Reports the time compared with bare decoding, the memory, and the cost of
// a second check.
#include "ratios.h"

#include <kiai/workshop/workshop.h>

#include <malloc.h>
#include <sndfile.h>

#include <atomic>
#include <cmath>
#include <cstdio>
#include <fstream>
#include <thread>
#include <unistd.h>

namespace {

namespace fs = std::filesystem;

constexpr int clips = 2000;

struct Kind {
    const char* extension;
    int format;
    int channels;
    int bytes; ///< per sample in memory
};

const Kind kinds[] = {
    {"wav", SF_FORMAT_WAV | SF_FORMAT_PCM_16, 1, 2},   {"wav", SF_FORMAT_WAV | SF_FORMAT_PCM_24, 2, 4},
    {"wav", SF_FORMAT_WAV | SF_FORMAT_FLOAT, 1, 4},    {"wav", SF_FORMAT_WAV | SF_FORMAT_IMA_ADPCM, 1, 2},
    {"flac", SF_FORMAT_FLAC | SF_FORMAT_PCM_16, 2, 2}, {"aiff", SF_FORMAT_AIFF | SF_FORMAT_PCM_16, 1, 2},
    {"ogg", SF_FORMAT_OGG | SF_FORMAT_VORBIS, 2, 4},   {"ogg", SF_FORMAT_OGG | SF_FORMAT_OPUS, 1, 4}};

struct Folder {
    Folder() {
        path = fs::temp_directory_path() / ("kiai-bench-" + std::to_string(getpid()));
        fs::create_directories(path);
        std::ofstream toml(path / "kiai.toml");
        toml << "format = 1\n[clip]\n";
        std::vector<float> samples;
        for (int i = 0; i < clips; ++i) {
            const Kind& kind = kinds[static_cast<std::size_t>(i) % std::size(kinds)];
            const int frames = 4800 * (1 + i * 7 % 13); // 0.1 to 1.3 s
            samples.resize(static_cast<std::size_t>(frames * kind.channels));
            unsigned noise = static_cast<unsigned>(i) + 1;
            for (std::size_t s = 0; s < samples.size(); ++s) {
                noise = noise * 1664525u + 1013904223u;
                samples[s] = 0.2f * std::sin(0.05f * static_cast<float>(s)) +
                             0.02f * (static_cast<float>(noise >> 8) / 8388608.0f - 1);
            }
            const std::string name = "c" + std::to_string(i) + "." + kind.extension;
            SF_INFO info{};
            info.samplerate = 48000;
            info.channels = kind.channels;
            info.format = kind.format;
            SNDFILE* file = sf_open((path / name).string().c_str(), SFM_WRITE, &info);
            sf_writef_float(file, samples.data(), frames);
            sf_close(file);
            toml << "c" << i << " = \"" << name << "\"\n";
            files.push_back((path / name).string());
            wide.push_back(kind.bytes == 4);
            bytes += static_cast<double>(frames) * kind.channels * kind.bytes;
        }
        constexpr int takes = 100; // of a sound, since a pack leaves out what nothing uses
        for (int i = 0; i < clips; ++i)
            toml << (i % takes == 0 ? "[sound.s" + std::to_string(i / takes) + "]\ntakes = [" : "") << "\"c" << i
                 << (i % takes == takes - 1 ? "\"]\n" : "\", ");
    }
    ~Folder() { fs::remove_all(path); }

    fs::path path;
    std::vector<std::string> files;
    std::vector<bool> wide;
    double bytes = 0; ///< of all samples in memory
};

/// Decodes all files into memory with libsndfile alone, on as many threads. Files of up to 16 bits stay in 16 bits.
void decode_all(const Folder& folder) {
    std::atomic<std::size_t> next{0};
    std::vector<std::vector<float>> floats(folder.files.size());
    std::vector<std::vector<short>> shorts(folder.files.size());
    const auto work = [&] {
        for (std::size_t i = next++; i < folder.files.size(); i = next++) {
            SF_INFO info{};
            SNDFILE* file = sf_open(folder.files[i].c_str(), SFM_READ, &info);
            const auto samples = static_cast<std::size_t>(info.frames * info.channels);
            if (folder.wide[i]) {
                floats[i].resize(samples);
                sf_readf_float(file, floats[i].data(), info.frames);
            } else {
                shorts[i].resize(samples);
                sf_readf_short(file, shorts[i].data(), info.frames);
            }
            sf_close(file);
        }
    };
    std::vector<std::jthread> threads;
    for (unsigned t = 0; t < std::max(1u, std::thread::hardware_concurrency()); ++t) threads.emplace_back(work);
}

/// Returns the resident memory of this process, in bytes.
double resident() {
    malloc_trim(0);
    std::ifstream file("/proc/self/statm");
    double total = 0, pages = 0;
    file >> total >> pages;
    return pages * static_cast<double>(sysconf(_SC_PAGESIZE));
}

void tell_memory(const Folder& folder) {
    const double none = resident();
    const kiai::Engine empty{kiai::Project()};
    const double fixed = resident() - none, before = resident();
    const kiai::Project project = kiai::load_project(folder.path).project;
    const kiai::Engine engine(project);
    const double grown = resident() - before;
    std::printf("\nmemory of %d clips: %.1f MB of samples, the engine alone %.1f MB, both %.1f MB: %.3f of their sum "
                "(mark <= 1.1)\n",
                clips, folder.bytes / 1e6, fixed / 1e6, grown / 1e6, grown / (folder.bytes + fixed));
}

} // namespace

int main(int count, char** arguments) {
    const Folder folder;
    tell_memory(folder);
    static_cast<void>(kiai::check_project(folder.path, {.keep_facts = true}));
    const bench::Work load = [&] { static_cast<void>(kiai::load_project(folder.path)); };
    const fs::path samples = folder.path / "samples.kiai", as_they_are = folder.path / "as-they-are.kiai";
    kiai::make_pack(folder.path, {.out = samples, .as = kiai::PackAs::wav});
    kiai::make_pack(folder.path, {.out = as_they_are});
    const bench::Work from_samples = [&] { static_cast<void>(kiai::load_project(samples)); };
    const bench::Work from_files = [&] { static_cast<void>(kiai::load_project(as_they_are)); };
    const bench::Work check = [&] { static_cast<void>(kiai::check_project(folder.path)); };
    return bench::run(count, arguments,
                      {{"load 2,000 clips",
                        "libsndfile decodes them into memory",
                        clips,
                        load,
                        [&] { decode_all(folder); },
                        {},
                        {},
                        ">= 0.91x"},
                       {"load a pack of samples", "load 2,000 clips", clips, from_samples, load, {}, {}, ">= 3x"},
                       {"load a pack as they are", "load 2,000 clips", clips, from_files, load, {}, {}, ""},
                       {"check them again", "load 2,000 clips", clips, check, load, {}, {}, ""}},
                      "file", 11);
}
