#include "core/model/project.h"
#include "core/model/standard_error.h"
#include "runtime/project/folder.h"

#include <kiai/reload.h>

#include <algorithm>
#include <chrono>
#include <condition_variable>
#include <map>
#include <mutex>
#include <thread>

namespace kiai::inline v0 {

namespace fs = std::filesystem;
using namespace std::chrono_literals;
using Clock = std::chrono::steady_clock;

namespace {

/// The size and time of each file.
using State = std::map<fs::path, std::pair<std::uintmax_t, fs::file_time_type>>;

State state_of(const fs::path& folder) {
    State state;
    const auto look_at = [&](const fs::path& file) {
        std::error_code error;
        const auto bytes = fs::file_size(file, error);
        if (error) return; // the file is missing, which is also a state
        const auto changed = fs::last_write_time(file, error);
        if (!error) state[file] = {bytes, changed};
    };
    std::error_code error;
    if (fs::is_regular_file(folder, error)) { // a pack
        look_at(folder);
        return state;
    }
    look_at(folder / "kiai.toml");
    for (const fs::path& file : runtime::find_audio(folder).audio) look_at(file);
    return state;
}

bool same(const Project& one, const Project& other) {
    const auto &a = one.data().clips, &b = other.data().clips;
    return one.fingerprint() == other.fingerprint() &&
           std::equal(a.begin(), a.end(), b.begin(), b.end(),
                      [](const model::Clip& x, const model::Clip& y) { return x.audio == y.audio; });
}

void say(const LoadResult& loaded, bool taken) {
    for (const Finding& finding : loaded.findings)
        if (finding.severity != Severity::note) model::to_standard_error(to_string(finding));
    if (!taken) model::to_standard_error("kiai: the project has errors; the last valid project stays active");
}

} // namespace

class Reload::Watcher {
  public:
    Watcher(Engine engine, fs::path folder, LoadOptions options, ReloadReport told)
        : engine_(std::move(engine)), folder_(std::move(folder)), options_(std::move(options)),
          told_(told ? std::move(told) : ReloadReport(say)), known_(state_of(folder_)), thread_([this] { run(); }) {}
    ~Watcher() {
        {
            const std::lock_guard lock(mutex_);
            over_ = true;
        }
        wake_.notify_one();
        thread_.join();
    }

  private:
    void run() {
        State seen = known_;
        auto since = Clock::now();
        auto pause = Clock::duration(25ms);
        while (!over_within(pause)) {
            const auto begin = Clock::now();
            State now = state_of(folder_);
            const auto end = Clock::now();
            pause = std::max<Clock::duration>(25ms, 20 * (end - begin)); // a large project is looked at less often
            if (now != seen) {
                seen = std::move(now);
                since = end;
            } else if (seen != known_ && end - since >= 100ms) {
                known_ = seen;
                load();
            }
        }
    }

    bool over_within(Clock::duration pause) {
        std::unique_lock lock(mutex_);
        return wake_.wait_for(lock, pause, [&] { return over_; });
    }

    void load() {
        const Project playing = engine_.project();
        options_.reuse = playing;
        const LoadResult loaded = load_project(folder_, options_);
        options_.reuse = {};
        const bool taken = loaded.ok();
        if (taken && same(loaded.project, playing)) return; // touched, or back to what plays
        if (taken) engine_.set_project(loaded.project);
        told_(loaded, taken);
    }

    Engine engine_; ///< the same engine a second time
    fs::path folder_;
    LoadOptions options_;
    ReloadReport told_;
    State known_;
    std::mutex mutex_;
    std::condition_variable wake_;
    bool over_ = false;
    std::thread thread_; ///< last: it uses all above
};

Reload::Reload(const Engine& engine, fs::path folder, LoadOptions options, ReloadReport told)
    : watcher_(std::make_unique<Watcher>(Engine(engine.shared_), fs::absolute(folder), std::move(options),
                                         std::move(told))) {}

Reload::~Reload() = default;

} // namespace kiai::inline v0
