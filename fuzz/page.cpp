// Sends a request to a page that may do everything: any request gets an answer, and what claims to be JSON is.
#include "support/files_in_memory.h"
#include "support/signal.h"
#include "target.h"

#include "workshop/page/backend.h"

#include <nlohmann/json.hpp>

#include <fstream>
#include <sstream>
#include <unistd.h>

namespace {

const char* const toml = R"(format = 1
[clip]
tone = "tone.wav"
[dial.fill]
[scope.bench]
[zone.tray]
circle = { x = 10, y = 10, r = 5 }
[[sound.hum.layer]]
takes = ["tone"]
[sound.hum.limit]
plays = 2
[[binding]]
trigger = { press = "tray" }
action = { play = "hum" }
[[binding]]
trigger = { watch = "fill > 0.5" }
action = { hold = "hum" }
)";

std::string read(const std::filesystem::path& file) {
    std::ifstream stream(file, std::ios::binary);
    return {std::istreambuf_iterator<char>(stream), {}};
}

void write(const std::filesystem::path& file, const std::string& bytes) {
    std::ofstream(file, std::ios::binary) << bytes;
}

/// A page without its server.
struct Bench {
    Bench() = default;
    ~Bench() {
        std::error_code ignored;
        std::filesystem::remove_all(folder, ignored);
    }
    Bench(const Bench&) = delete;
    Bench& operator=(const Bench&) = delete;

    const std::filesystem::path folder =
        std::filesystem::temp_directory_path() / ("kiai-fuzz-page-" + std::to_string(getpid()));
    kiai::Project project = [this] {
        std::filesystem::create_directories(folder);
        write(folder / "tone.wav", support::wav_bytes(support::sine(700, 0.5, 4800)));
        write(folder / "kiai.toml", toml);
        return kiai::load_project(folder).project;
    }();
    kiai::Engine engine{project, {.seed = 1}};
    std::mutex control;
    kiai::workshop::Editor editor{folder};
    kiai::workshop::Recording recording{folder, engine, control};
    kiai::workshop::PageBackend backend{
        engine, project, {{true, true, true, false}, folder, {}, nullptr, &recording, &editor}};
};

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    static Bench bench;
    std::istringstream text(fuzz::text_of(data, size));
    std::string method, target, rest;
    text >> method >> target;
    std::getline(text, rest);
    kiai::workshop::PageRequest request;
    request.post = method == "POST";
    request.path = target.substr(0, target.find('?'));
    request.body.assign(std::istreambuf_iterator<char>(text), {});
    std::istringstream values(target.find('?') == std::string::npos ? "" : target.substr(target.find('?') + 1));
    for (std::string pair; std::getline(values, pair, '&');) {
        const std::size_t equals = std::min(pair.find('='), pair.size());
        request.values.emplace(pair.substr(0, equals), pair.substr(std::min(equals + 1, pair.size())));
    }
    if (request.values.contains("text")) request.values["text"] = bench.editor.text_id(); // else all edits are refused
    const kiai::workshop::PageAnswer answer = bench.backend.answer(request);
    if (answer.status < 200 || answer.status > 599) std::abort();
    if (answer.type == "application/json" && !nlohmann::json::accept(answer.body)) std::abort();
    std::vector<float> out(2 * 512);
    bench.engine.render(out);
    bench.engine.poll();
    std::filesystem::remove_all(bench.folder / "traces");
    if (read(bench.folder / "kiai.toml") != toml) write(bench.folder / "kiai.toml", toml);
    return 0;
}
