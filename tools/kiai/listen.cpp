#include "listen.h"

#include "table.h"

#include <kiai/open.h>

#include <fmt/format.h>

#include <algorithm>
#include <atomic>
#include <chrono>
#include <csignal>
#include <cstring>
#include <iostream>
#include <thread>
#include <utility>

namespace kiai::tool {
namespace {

std::atomic<bool> interrupted{false};

/// A project of one clip in memory.
class Text : public FileReader {
  public:
    std::int64_t size() override { return static_cast<std::int64_t>(std::strlen(toml)); }
    std::int64_t read(std::int64_t from, std::span<std::byte> into) override {
        const std::int64_t count = std::clamp<std::int64_t>(size() - from, 0, static_cast<std::int64_t>(into.size()));
        std::memcpy(into.data(), toml + from, static_cast<std::size_t>(count));
        return count;
    }

  private:
    static constexpr const char* toml = "format = 1\n[clip]\nheard = { from-app = true }\n";
};

} // namespace

void print_devices() {
    Table table({"", "output", "channels", "rate"});
    for (const OutputDevice& device : output_devices())
        table.add({device.is_default ? "default" : "", device.name, std::to_string(device.channels),
                   std::to_string(device.rate)});
    table.print();
}

Status listen(const Rehearsal& rehearsal, const SpeakerSettings& settings) {
    LoadOptions options;
    options.open = [](const std::string& path) {
        return path == "kiai.toml" ? std::make_unique<Text>() : std::unique_ptr<Text>();
    };
    options.samples["heard"] = {rehearsal.sample_rate, 2, rehearsal.samples};
    Engine engine(load_project({}, options).project, {.sample_rate = rehearsal.sample_rate, .seed = rehearsal.seed});
    engine.set_log({});
    Speaker speaker(engine, settings);
    if (!speaker.wait_until_open(Seconds(10))) {
        say_error("nothing can be heard (" + speaker.status() + "); write a file with --out");
        return failed;
    }
    std::signal(SIGINT, [](int) { interrupted = true; });
    Play play = engine.play("heard");
    bool stopped = false;
    Frames over = engine.now() + 1; // and what ended last is still on its way to the device
    while (engine.now() < over) {
        if (play.playing()) over = engine.now() + engine.latency() + rehearsal.sample_rate / 10;
        if (interrupted && !std::exchange(stopped, true)) play.stop(Seconds(0.2));
        std::this_thread::sleep_for(std::chrono::milliseconds(5));
    }
    std::signal(SIGINT, SIG_DFL);
    if (const auto late = speaker.late_blocks(); late > 0)
        std::cerr << fmt::format("{} had to wait {}: there were holes\n", speaker.status(), counted(late, "time"));
    return done;
}

} // namespace kiai::tool
