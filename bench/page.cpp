// Measures what an open page costs the app that it watches: in `render`, next to an app that reads the levels of its
// buses itself, and in `poll`.
//   kiai_bench_page [--repeats N]
#include <kiai/workshop/page.h>
#include <kiai/workshop/workshop.h>

#include <fmt/format.h>
#include <httplib.h>

#include <algorithm>
#include <atomic>
#include <chrono>
#include <cstdlib>
#include <iostream>
#include <memory>
#include <optional>
#include <string>
#include <thread>
#include <vector>

namespace {

using Clock = std::chrono::steady_clock;

constexpr int blocks = 1000, frames = 256, triggers = 10;

/// Reads the events of a page until it is destroyed.
class Watcher {
  public:
    explicit Watcher(const std::string& url)
        : path_(url.substr(url.find('/', 8))), client_(url.substr(0, url.find('/', 8))), thread_([this] {
              client_.Get(path_ + "events", [this](const char*, std::size_t size) {
                  bytes_ += size;
                  return !stop_;
              });
          }) {
        while (bytes_ == 0) std::this_thread::yield();
    }
    ~Watcher() {
        stop_ = true;
        thread_.join();
    }
    Watcher(const Watcher&) = delete;
    Watcher& operator=(const Watcher&) = delete;
    std::size_t bytes() const { return bytes_; }

  private:
    std::string path_;
    httplib::Client client_;
    std::atomic<std::size_t> bytes_ = 0;
    std::atomic<bool> stop_ = false;
    std::thread thread_;
};

struct Cost {
    double render = 0, poll = 0; ///< seconds per block
    std::size_t bytes = 0;       ///< that the page was sent
};

enum class With { nothing, levels, page };

Cost run(const kiai::Project& project, With with) {
    kiai::Engine engine(project, {.seed = 1});
    engine.set_log({});
    engine.set_findings([](const kiai::Finding&) {});
    std::optional<kiai::Page> page;
    std::optional<Watcher> watcher;
    if (with != With::nothing)
        for (const auto& bus : project.buses()) engine.bus_level(bus);
    if (with == With::page) {
        page.emplace(engine);
        watcher.emplace(page->url());
    }
    std::vector<float> out(2 * frames);
    Cost cost;
    for (int block = 0; block < blocks; ++block) {
        for (int i = 0; i < triggers; ++i) engine.contact("marble", i % 2 == 0 ? "oak" : "glass", {.strength = 0.5f});
        const auto begin = Clock::now();
        engine.render(out);
        const auto middle = Clock::now();
        engine.poll();
        const auto end = Clock::now();
        cost.render += std::chrono::duration<double>(middle - begin).count() / blocks;
        cost.poll += std::chrono::duration<double>(end - middle).count() / blocks;
        std::this_thread::sleep_until(begin + std::chrono::microseconds(1000)); // as an app with other work does
    }
    if (watcher) cost.bytes = watcher->bytes();
    return cost;
}

double median(std::vector<double> values) {
    std::nth_element(values.begin(), values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2), values.end());
    return values[values.size() / 2];
}

} // namespace

int main(int count, char** arguments) {
    int repeats = 9;
    for (int i = 1; i + 1 < count; ++i)
        if (std::string(arguments[i]) == "--repeats") repeats = std::max(1, std::atoi(arguments[i + 1]));
    const kiai::LoadResult loaded = kiai::load_project(KIAI_SOURCE "/examples/marble-run");
    if (!loaded.ok()) {
        std::cerr << "the marble run cannot be loaded\n";
        return 1;
    }
    std::vector<double> page, levels, poll, alone;
    std::size_t bytes = 0;
    for (int i = 0; i < repeats; ++i) { // in turns, because the machine changes its speed
        const Cost without = run(loaded.project, With::nothing), measured = run(loaded.project, With::levels),
                   shown = run(loaded.project, With::page);
        page.push_back(shown.render / measured.render);
        levels.push_back((measured.render - without.render) * 1e6);
        poll.push_back((shown.poll - measured.poll) * 1e6);
        alone.push_back(measured.render * 1e6);
        bytes = shown.bytes;
    }
    std::cout << fmt::format("render with an open page: {:.3f} x the time without one, with levels in both\n",
                             median(page))
              << fmt::format(
                     "the levels of its buses: {:.1f} us of {:.1f} us per block of {} frames, {} triggers each\n",
                     median(levels), median(alone), frames, triggers)
              << fmt::format("poll with an open page: {:.1f} us more per block; the page was sent {} kB in a run\n",
                             median(poll), bytes / 1000);
}
