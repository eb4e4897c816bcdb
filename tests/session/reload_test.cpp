// A project whose files change while it plays.
#include "support/project_folder.h"
#include "support/signal.h"

#include <kiai/reload.h>
#include <kiai/workshop/pack.h>

#include <catch2/catch.hpp>

#include <atomic>
#include <chrono>
#include <condition_variable>
#include <mutex>
#include <thread>
#include <vector>

using namespace support;

namespace {

/// Collects what a Reload reports.
class Heard {
  public:
    kiai::Reload::ReloadReport teller() {
        return [this](const kiai::LoadResult& loaded, bool taken) {
            const std::lock_guard guard(mutex_);
            all_.push_back({loaded, taken});
            wake_.notify_all();
        };
    }
    struct One {
        kiai::LoadResult loaded;
        bool taken;
    };
    /// Waits for the n-th report, from 1.
    One at(std::size_t number) {
        std::unique_lock lock(mutex_);
        REQUIRE(wake_.wait_for(lock, std::chrono::seconds(30), [&] { return all_.size() >= number; }));
        return all_[number - 1];
    }
    std::size_t count() {
        const std::lock_guard guard(mutex_);
        return all_.size();
    }

  private:
    std::mutex mutex_;
    std::condition_variable wake_;
    std::vector<One> all_;
};

const std::string clip = "[clip]\ntone = 'tone.wav'\n";

} // namespace

TEST_CASE("Files that change are loaded, a broken edit is reported once, and the last good project plays on",
          "[reload][threads]") {
    ProjectFolder folder(clip);
    folder.write_wav("tone.wav", Signal(48000, 0.25f));
    kiai::Engine engine(folder.load(), {.seed = 1});
    const kiai::Project first = engine.project();
    Heard heard;
    {
        const kiai::Reload reload(engine, folder.path(), {}, heard.teller());
        engine.play("tone");
        render(engine, 1000);
        folder.toml(clip + "[sound.quiet]\ntakes = ['tone']\ngain = -6\n");
        CHECK(heard.at(1).taken);
        CHECK(engine.project().fingerprint() != first.fingerprint());
        engine.play("quiet");
        render(engine, 1000);
        CHECK(engine.sounding() == 2); // what sounded continues

        folder.toml(clip + "[sound.quiet]\ntakes = ['tome']\n");
        const Heard::One broken = heard.at(2);
        CHECK_FALSE(broken.taken);
        REQUIRE(broken.loaded.findings.size() == 1);
        CHECK(broken.loaded.findings[0].line > 0);
        engine.play("quiet");
        render(engine, 1000);
        CHECK(engine.sounding() == 3);

        folder.toml(clip + "[sound.quiet\n"); // cannot even be parsed
        CHECK_FALSE(heard.at(3).taken);

        folder.toml(clip + "[sound.quiet]\ntakes = ['tone']\n");
        CHECK(heard.at(4).taken);
        folder.write_wav("tone.wav", Signal(48000, 0.5f));
        CHECK(heard.at(5).taken);
    }
    render(engine, 4000);
    engine.stop("tone");
    engine.stop("quiet");
    render(engine, 4000);
    engine.play("quiet");
    CHECK(side(render(engine, 4000), 0).back() == Approx(0.5));
    CHECK(heard.count() == 5); // each edit once
}

TEST_CASE("A file that was only touched changes nothing", "[reload][threads]") {
    ProjectFolder folder(clip);
    folder.write_wav("tone.wav", Signal(1000, 0.25f));
    kiai::Engine engine(folder.load(), {.seed = 1});
    Heard heard;
    const kiai::Reload reload(engine, folder.path(), {}, heard.teller());
    folder.toml(clip); // the same text again
    folder.write("notes.txt", "no audio");
    folder.toml(clip + "[dial.fill]\n");
    CHECK(heard.at(1).taken);
    CHECK(heard.count() == 1);
}

TEST_CASE("A project is changed by one thread while others report, render and read", "[change][threads]") {
    ProjectFolder folder;
    folder.write_wav("tone.wav", Signal(3000, 0.1f));
    std::vector<kiai::Project> projects;
    for (const char* more : {"", "[sound.hum]\ntakes = ['tone']\nloop = true\n",
                             "[sound.hum]\ntakes = ['tone']\nloop = true\ngain = -9\n"}) {
        folder.toml(clip + more + "[[binding]]\ntrigger = { notice = 'go' }\naction = { play = 'tone' }\n");
        projects.push_back(folder.load());
    }
    kiai::Engine engine(projects[0], {.seed = 1});
    std::size_t changes = 0, played = 0;
    engine.set_log([&](const kiai::Decision& decision) {
        changes += decision.outcome == kiai::Outcome::changed ? 1 : 0;
        played += decision.outcome == kiai::Outcome::played ? 1 : 0;
        if (decision.outcome == kiai::Outcome::played) CHECK_FALSE(decision.layers.at(0).clip.empty());
    });
    std::atomic<bool> over{false};
    std::jthread renders([&] {
        while (!over) render(engine, 256);
    });
    std::jthread reports([&] {
        while (!over) {
            engine.notice("go");
            engine.play("hum");
            engine.stop("hum");
            std::this_thread::yield();
        }
    });
    for (std::size_t i = 0; i < 300; ++i) {
        engine.set_project(projects[i % 3]);
        while (changes < i / 2) engine.poll(); // several may wait
        engine.poll();
    }
    while (changes < 300) engine.poll();
    while (played < 100) engine.poll();
    over = true;
    CHECK(changes == 300);
}

TEST_CASE("A pack that is made again is heard in its new state", "[reload][threads]") {
    ProjectFolder folder(clip + "[sound.quiet]\ntakes = ['tone']\ngain = -6\n");
    folder.write_wav("tone.wav", Signal(48000, 0.25f));
    const auto pack = folder.path() / "bench.kiai";
    kiai::make_pack(folder.path(), {.out = pack});
    kiai::Engine engine(kiai::load_project(pack).project, {.seed = 1});
    Heard heard;
    const kiai::Reload reload(engine, pack, {}, heard.teller());
    folder.toml(clip + "[sound.quiet]\ntakes = ['tone']\ngain = -12\n");
    kiai::make_pack(folder.path(), {.out = pack});
    CHECK(heard.at(1).taken);
    engine.play("quiet");
    CHECK(peak(side(render(engine, 4000), 0)) == Approx(0.25 * 0.2512).epsilon(0.02));
}
