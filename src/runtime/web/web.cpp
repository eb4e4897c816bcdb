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

// worklet.js has the same numbers.
enum WebText { web_outcome, web_trigger, web_on, web_sound, web_rule, web_line };
enum WebNumber { web_frame, web_binding, web_play, web_x, web_y };

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

/// Returns a text of the oldest waiting decision.
const char* kiai_web_text(kiai_web* web, int which) {
    const kiai::Decision& decision = web->decisions.front();
    switch (which) {
    case web_outcome:
        return to_string(decision.outcome);
    case web_trigger:
        return to_string(decision.trigger);
    case web_on:
        return decision.on.c_str();
    case web_sound:
        return decision.sound.c_str();
    case web_rule:
        return decision.rule.c_str();
    case web_line:
        web->text = describe(decision);
        return web->text.c_str();
    default:
        return "";
    }
}

/// Returns a number of the oldest waiting decision.
double kiai_web_number(kiai_web* web, int which) {
    const kiai::Decision& decision = web->decisions.front();
    switch (which) {
    case web_frame:
        return static_cast<double>(decision.frame);
    case web_binding:
        return decision.binding;
    case web_play:
        return decision.play;
    case web_x:
        return static_cast<double>(decision.point.x);
    case web_y:
        return static_cast<double>(decision.point.y);
    default:
        return 0;
    }
}

/// Drops the oldest waiting decision.
void kiai_web_next(kiai_web* web) {
    web->decisions.pop_front();
}

} // extern "C"
