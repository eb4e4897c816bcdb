// `render` takes no memory and gives none back, whatever it is asked to do.
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <catch2/catch.hpp>

#include <cstdlib>
#include <memory>
#include <new>

namespace {
thread_local bool watched = false;
thread_local int taken = 0, given = 0;
} // namespace

// This test's own memory functions stand for the whole program's, and count while they are watched.
void* operator new(std::size_t size, const std::nothrow_t&) noexcept {
    taken += watched ? 1 : 0;
    return std::malloc(size > 0 ? size : 1);
}
void* operator new(std::size_t size) {
    if (void* memory = operator new(size, std::nothrow)) return memory;
    throw std::bad_alloc();
}
void operator delete(void* memory) noexcept {
    given += watched && memory ? 1 : 0;
    std::free(memory);
}
void operator delete(void* memory, std::size_t) noexcept {
    operator delete(memory);
}

using namespace support;

std::unique_ptr<int> seeded; // seen from outside, so that the compiler cannot leave it out

TEST_CASE("render takes no memory and gives none back", "[realtime]") {
    const kiai::Trace trace = kiai::load_trace(demo() / "run.jsonl").trace;
    const kiai::Project project = kiai::load_project(demo()).project;
    const Folder other;
    std::string text = text_of(demo() / "kiai.toml");
    const std::string was = "[sound.oak]", also = "[sound.elm]\ntakes = [\"oak-1\"]\n\n[sound.oak]\ngain = -2";
    text.replace(text.find(was), was.size(), also);
    other.write("kiai.toml", text);
    std::filesystem::copy(demo() / "clips", other.path() / "clips");
    const kiai::Loaded loaded = kiai::load_project(other.path());
    for (const kiai::Finding& finding : loaded.findings) UNSCOPED_INFO(finding.sentence);
    REQUIRE(loaded.ok());
    const kiai::Project changed = loaded.project;
    kiai::Engine engine(project, {.seed = 7, .voices = 24, .keep_levels = true});
    engine.set_log({});
    for (const kiai::TraceLine& line : trace.lines) engine.report(line.report, line.due(48000));
    std::vector<kiai::Play> plays;
    std::vector<float> block(2 * 300);
    while (engine.now() < 48000 * 30) {
        if (engine.now() % 3000 == 0) {
            plays.push_back(engine.play("oak", {.pitch = static_cast<float>(plays.size() % 40) - 20}));
            plays.back().set_gain(-6);
            engine.play("no-such-name");
            engine.key_down("KeyQ");
            engine.contact("a", "b", {.strength = -1});
            if (plays.size() % 3 == 0) plays[plays.size() / 2].stop();
            if (plays.size() % 7 == 0) engine.change(plays.size() % 2 == 0 ? project : changed);
            if (engine.now() > 48000 * 29) engine.wind_down();
        }
        watched = true;
        engine.render(block);
        watched = false;
    }
    CHECK(taken == 0);
    CHECK(given == 0);

    watched = true; // and it would be seen
    seeded = std::make_unique<int>(1);
    seeded.reset();
    watched = false;
    CHECK(taken == 1);
    CHECK(given == 1);
}
