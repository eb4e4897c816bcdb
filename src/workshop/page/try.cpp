#include "workshop/page/backend.h"
#include "workshop/page/server.h"

#include <kiai/load.h>
#include <kiai/reload.h>
#include <kiai/speaker.h>
#include <kiai/workshop/page.h>

#include <atomic>
#include <chrono>
#include <map>
#include <mutex>
#include <thread>

namespace kiai::inline v0 {
namespace {

namespace fs = std::filesystem;

EngineSettings settings_of(const TrySettings& settings) {
    EngineSettings engine;
    engine.seed = settings.seed;
    engine.record_levels = true;
    return engine;
}

/// Sums the levels of the layers of each play up over 20 ms.
class LevelSteps {
  public:
    std::vector<workshop::LevelPoint> take(Engine& engine) {
        std::vector<workshop::LevelPoint> done;
        for (std::size_t count = 0; (count = engine.read_levels(levels_)) > 0;)
            for (std::size_t i = 0; i < count; ++i) {
                const PlayLevel& level = levels_[i];
                workshop::LevelPoint& point = open_[level.play];
                const Frames step = level.frame / frames * frames;
                if (point.play != 0 && point.frame != step) {
                    done.push_back(point);
                    point.peak = 0;
                }
                point.play = level.play, point.frame = step, point.peak = std::max(point.peak, level.peak);
            }
        const Frames old = engine.now() - 4 * frames; // ended
        std::erase_if(open_, [&](const auto& one) {
            if (one.second.frame >= old) return false;
            done.push_back(one.second);
            return true;
        });
        return done;
    }

  private:
    static constexpr Frames frames = 960;
    std::vector<PlayLevel> levels_ = std::vector<PlayLevel>(1024);
    std::map<std::uint32_t, workshop::LevelPoint> open_;
};

} // namespace

struct TryPage::State {
    State(const fs::path& of, const TrySettings& settings)
        : folder(of), editor(of), loaded(load_project(of)), engine(loaded.project, settings_of(settings)),
          speaker(engine), recording(of, engine, one_at_a_time),
          backend(engine, loaded.project,
                  {{true, true, settings.edit, !settings.over.empty()},
                   folder,
                   settings.over,
                   &speaker,
                   &recording,
                   settings.edit ? &editor : nullptr}),
          log(engine.add_log([this](const Decision& decision) { backend.feed().add(decision); })),
          reload(engine, of, {},
                 [this](const LoadResult& next, bool taken) {
                     // What was not taken is looked at again too, for its findings.
                     backend.set_project(taken ? next.project : backend.project());
                 }),
          server(
              {[this](const auto& request) { return backend.answer(request); }, [this] { return backend.events(); }}),
          error(server.listen(settings.port)), control([this] { run(); }) {}
    ~State() {
        backend.feed().close();
        server.stop();
        stopped = true;
        control.join();
    }

    /// The thread of the calls that only one thread may make.
    void run() {
        engine.set_log({});
        LevelSteps steps;
        while (!stopped) {
            {
                const std::lock_guard guard(one_at_a_time);
                engine.poll();
            }
            backend.feed().add_levels(steps.take(engine));
            std::this_thread::sleep_for(std::chrono::milliseconds(4));
        }
    }

    const fs::path folder;
    workshop::Editor editor;
    LoadResult loaded;
    Engine engine;
    Speaker speaker;
    std::mutex one_at_a_time;
    workshop::Recording recording;
    workshop::PageBackend backend;
    std::shared_ptr<void> log;
    Reload reload;
    workshop::PageServer server;
    std::string error;
    std::atomic<bool> stopped = false;
    std::thread control;
};

TryPage::TryPage(const fs::path& folder, const TrySettings& settings)
    : state_(std::make_unique<State>(folder, settings)) {}

TryPage::~TryPage() = default;

const std::string& TryPage::url() const noexcept {
    return state_->server.url();
}

const std::string& TryPage::error() const noexcept {
    return state_->error;
}

const std::vector<Finding>& TryPage::findings() const noexcept {
    return state_->loaded.findings;
}

std::string TryPage::device() const {
    return state_->speaker.status();
}

} // namespace kiai::inline v0
