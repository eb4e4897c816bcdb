// Clips that are loaded with the scopes that need them, and are freed with them.
#include "support/project_folder.h"
#include "support/signal.h"

#include <kiai/engine.h>

#include <catch2/catch.hpp>

#include <thread>

using namespace support;

namespace {

struct TwoScopes : ProjectFolder {
    TwoScopes() : ProjectFolder(text()) {
        write_wav("run.wav", Signal(1000, 0.1f));
        write_wav("box.wav", Signal(48000, 0.2f));
        write_wav("both.wav", Signal(300, 0.3f));
    }
    static std::string text() {
        const auto clip = [](const std::string& name) { return name + " = '" + name + ".wav'\n"; };
        return "[clip]\n" + clip("run") + clip("box") + clip("both") +
               "[sound.knock]\ntakes = ['box']\nloop = { from = '10 ms', to = '900 ms' }\n[scope.bench]\non = true\n"
               "[scope.drawer]\n[zone.oak-box]\ncircle = { x = 0, y = 0, r = 5 }\nscope = 'drawer'\n"
               "[[binding]]\ntrigger = { notice = 'runs' }\nscope = 'bench'\naction = [{ play = 'run' }, { play = "
               "'both' }]\n"
               "[[binding]]\ntrigger = { press = 'oak-box' }\naction = { play = 'knock' }\n"
               "[[binding]]\ntrigger = { notice = 'both' }\nscope = 'drawer'\naction = { play = 'both' }\n";
    }
    kiai::Project with(std::vector<std::string> scopes, const kiai::Project& like = {},
                       const kiai::Progress& progress = {}) {
        const kiai::LoadResult loaded =
            kiai::load_project(path(), {.progress = progress, .scopes = std::move(scopes), .reuse = like});
        for (const kiai::Finding& finding : loaded.findings) UNSCOPED_INFO(finding.message);
        REQUIRE(loaded.ok());
        return loaded.project;
    }
};

} // namespace

TEST_CASE("The clips of a scope are loaded when it is asked for, and a sound of another one is not ready",
          "[scopes][sources]") {
    TwoScopes bench;
    const kiai::Project first = bench.with({"bench"});
    CHECK(first.memory() == 4 * (1000 + 300));
    CHECK(first.memory("bench") == 4 * 1000); // what both need is not its own
    CHECK(first.memory("drawer") == 0);
    kiai::Engine engine(first, {.seed = 1});
    std::vector<kiai::Decision> log;
    engine.set_log([&](const kiai::Decision& decision) { log.push_back(decision); });
    engine.enter_scope("drawer");
    engine.press({0, 0});
    engine.play("box");
    engine.notice("both");
    render(engine, 100);
    engine.poll();
    CHECK(with_outcome(log, kiai::Outcome::not_ready).size() == 2);
    CHECK(with_outcome(log, kiai::Outcome::played).size() == 1);
    CHECK(describe(with_outcome(log, kiai::Outcome::not_ready)[0]).find("scope") != std::string::npos);

    std::size_t told = 0;
    std::thread([&] { // as a screen would that shows how far it is
        engine.set_project(
            bench.with({"bench", "drawer"}, engine.project(), [&](std::size_t, std::size_t all) { told = all; }));
    })
        .join();
    CHECK(told == 3);
    const kiai::Project all = engine.project();
    CHECK(all.memory("drawer") == 4 * 48000);
    log.clear();
    engine.release();
    engine.press({0, 0});
    render(engine, 100);
    engine.poll();
    CHECK(with_outcome(log, kiai::Outcome::played).size() == 1);

    log.clear();
    engine.set_project(bench.with({"bench"}, all)); // it is released, and what is playing continues with its samples
    const Signal heard = side(render(engine, 48000), 0);
    CHECK(heard.back() == Approx(0.2));
    engine.play("knock");
    render(engine, 100);
    engine.poll();
    CHECK(with_outcome(log, kiai::Outcome::not_ready).size() == 1);
    for (const kiai::Decision& decision : with_outcome(log, kiai::Outcome::ended)) CHECK(decision.sound != "knock");
    engine.stop("knock");
    engine.leave_scope("drawer");
    render(engine, 48000);
    CHECK(engine.sounding() == 0);
}

TEST_CASE("A scope that is asked for and does not exist is an error", "[scopes][sources]") {
    const TwoScopes bench;
    const kiai::LoadResult loaded = kiai::load_project(bench.path(), {.scopes = {{"bank"}}});
    REQUIRE(loaded.findings.size() == 1);
    CHECK(loaded.findings[0].code == kiai::FindingCode::unknown_name);
    CHECK(loaded.findings[0].message.find("\"bank\"") != std::string::npos);
}
