#include <kiai/open.h>

#include <chrono>
#include <iostream>
#include <thread>

namespace kiai::inline v0 {

using namespace std::chrono_literals;

Opened::Opened(Project project) : Engine(std::move(project)), speaker_(std::make_unique<Speaker>(*this)) {
    speaker_->wait_until_open(); // so that the first sound is heard from its beginning
}

Opened::~Opened() {
    if (!speaker_) return; // moved from
    reload_.reset();
    const auto patience = std::chrono::steady_clock::now() + 10s;
    const Frames reported = now(); // what was reported last begins with the block after this
    bool faded = false;
    // So it is waited for a while in any case, however late this thread comes to look; and what ended last is still on
    // its way through the limiter and the device.
    Frames over = reported + sample_rate() / 5;
    while (now() < over && std::chrono::steady_clock::now() < patience) {
        if (sounding() + waiting() > 0 || now() <= reported) over = now() + latency() + sample_rate() / 10;
        if (now() > reported && !faded) wind_down(), faded = true;
        poll();
        std::this_thread::sleep_for(5ms);
    }
    poll();
}

Opened open(const std::filesystem::path& folder, const OpenSettings& settings) {
    Loaded loaded = load_project(folder);
    for (const Finding& finding : loaded.findings)
        if (finding.severity != Severity::note) std::cerr << finding << '\n';
    Opened opened(std::move(loaded.project));
    if (settings.reload) opened.reload_ = std::make_unique<Reload>(opened, folder);
    return opened;
}

} // namespace kiai::inline v0
