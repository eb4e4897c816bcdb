// What a browser needs beside the C face: it has no files, so everything passes through memory, and it decodes the
// audio files of a pack itself. kiai.js and worklet.js make these calls.
#include "runtime/c/c_engine.h"

#include <cstring>
#include <deque>
#include <map>
#include <string>
#include <utility>

/// A pack, and the engine that plays it.
struct kiai_web {
    struct File {
        std::string path;
        std::vector<std::byte> bytes;
    };
    std::vector<std::byte> pack;
    std::vector<File> files;                      ///< that have to be decoded
    std::map<std::string, kiai::Samples> decoded; ///< by path
    std::unique_ptr<kiai_engine> engine;
    std::deque<kiai::Decision> decisions; ///< not yet fetched
    int left_out = 0;                     ///< of the decisions, because too many waited
    std::string text;                     ///< the last that was returned
};

namespace {

constexpr std::size_t most_decisions = 1024;

const kiai::Decision& oldest(const kiai_web* web) {
    return web->decisions.front();
}

} // namespace

extern "C" {

/// Makes room for a pack of `size` bytes.
kiai_web* kiai_web_new(std::size_t size) {
    auto* const web = new kiai_web;
    web->pack.resize(size);
    return web;
}

/// Returns the room of the pack, for the caller to fill.
std::byte* kiai_web_pack(kiai_web* web) {
    return web->pack.data();
}

/// Finds the audio files in the pack. Returns how many.
int kiai_web_scan(kiai_web* web) {
    kiai::LoadOptions options;
    options.decode = [&](const std::string& path, std::span<const std::byte> bytes) -> std::optional<kiai::Samples> {
        web->files.push_back({path, {bytes.begin(), bytes.end()}});
        return std::nullopt;
    };
    kiai::load_pack(web->pack, options);
    return static_cast<int>(web->files.size());
}

const char* kiai_web_file(kiai_web* web, int file) {
    return web->files[static_cast<std::size_t>(file)].path.c_str();
}

const std::byte* kiai_web_file_bytes(kiai_web* web, int file) {
    return web->files[static_cast<std::size_t>(file)].bytes.data();
}

std::size_t kiai_web_file_size(kiai_web* web, int file) {
    return web->files[static_cast<std::size_t>(file)].bytes.size();
}

/// Makes room for the interleaved samples of a file, for the caller to fill.
float* kiai_web_samples(kiai_web* web, const char* path, int rate, int channels, int frames) {
    kiai::Samples& samples = web->decoded[path];
    samples.rate = rate;
    samples.channels = channels;
    samples.interleaved.resize(static_cast<std::size_t>(channels) * static_cast<std::size_t>(frames));
    return samples.interleaved.data();
}

/// Loads the pack, which is gone afterwards. The functions of kiai_c.h accept the engine; kiai_findings lists its
/// errors.
kiai_engine* kiai_web_start(kiai_web* web, int rate, double seed, int portable_kernels) {
    kiai::LoadOptions options;
    options.decode = [&](const std::string& path, std::span<const std::byte>) -> std::optional<kiai::Samples> {
        const auto found = web->decoded.find(path);
        if (found == web->decoded.end()) return std::nullopt;
        return std::move(found->second);
    };
    kiai::LoadResult loaded = kiai::load_pack(std::move(web->pack), options);
    kiai::EngineSettings settings{.sample_rate = rate, .portable_kernels = portable_kernels != 0};
    settings.seed = static_cast<std::uint64_t>(seed);
    web->engine = std::make_unique<kiai_engine>(std::move(loaded), false, settings);
    web->decoded.clear();
    web->engine->get().set_log([web](const kiai::Decision& decision) {
        if (web->decisions.size() == most_decisions) web->decisions.pop_front(), ++web->left_out;
        web->decisions.push_back(decision);
    });
    return web->engine.get();
}

/// Returns how many decisions wait to be fetched.
int kiai_web_decisions(kiai_web* web) {
    return static_cast<int>(web->decisions.size());
}

/// Returns how many decisions were dropped since the last call.
int kiai_web_left_out(kiai_web* web) {
    return std::exchange(web->left_out, 0);
}

// Of the oldest waiting decision: its members, and the line of the log.

const char* kiai_web_outcome(kiai_web* web) {
    return to_string(oldest(web).outcome);
}

const char* kiai_web_trigger(kiai_web* web) {
    return to_string(oldest(web).trigger);
}

const char* kiai_web_on(kiai_web* web) {
    return oldest(web).on.c_str();
}

const char* kiai_web_sound(kiai_web* web) {
    return oldest(web).sound.c_str();
}

const char* kiai_web_rule(kiai_web* web) {
    return oldest(web).rule.c_str();
}

const char* kiai_web_line(kiai_web* web) {
    web->text = describe(oldest(web));
    return web->text.c_str();
}

double kiai_web_frame(kiai_web* web) {
    return static_cast<double>(oldest(web).frame);
}

int kiai_web_binding(kiai_web* web) {
    return oldest(web).binding;
}

double kiai_web_play_number(kiai_web* web) {
    return static_cast<double>(oldest(web).play);
}

double kiai_web_x(kiai_web* web) {
    return static_cast<double>(oldest(web).point.x);
}

double kiai_web_y(kiai_web* web) {
    return static_cast<double>(oldest(web).point.y);
}

/// Drops the oldest waiting decision.
void kiai_web_next(kiai_web* web) {
    web->decisions.pop_front();
}

} // extern "C"
