#include "core/model/standard_error.h"
#include "runtime/system/beside_program.h"

#include <kiai/load.h>
#include <kiai/open.h>

#include <algorithm>
#include <chrono>
#include <thread>

namespace kiai::inline v0 {

using namespace std::chrono_literals;

Session::Session(Project project, Seconds close_within)
    : Engine(std::move(project)), speaker_(std::make_unique<Speaker>(*this)),
      close_within_(std::clamp(close_within, Seconds(0), Seconds(3600))) {
    speaker_->wait_until_open(); // so that the first sound is heard from its beginning
    if (speaker_->playing()) return;
    Finding finding;
    finding.code = FindingCode::no_device;
    finding.severity = usual_severity(finding.code);
    finding.message = "nothing is heard: " + speaker_->status();
    finding.fix = "connect or choose an output device; Kiai tries again every second";
    model::to_standard_error("kiai: " + to_string(finding));
}

Session::~Session() {
    if (!speaker_) return; // moved from
    reload_.reset();
    const auto patience = std::chrono::steady_clock::now() +
                          std::chrono::duration_cast<std::chrono::steady_clock::duration>(close_within_);
    const Frames reported = now(); // what was reported last begins with the block after this
    bool faded = false, quiet = false;
    Frames over = reported;
    while (std::chrono::steady_clock::now() < patience) {
        const Frames seen = now();
        if (seen > reported && !faded) wind_down(), faded = true;
        const bool waits = seen <= reported || sounding() + waiting() > 0;
        // The last sound still has to pass the limiter and the device. The wait starts over at the first check that
        // finds no sound, because this thread may have woken up late.
        if (waits || !quiet) over = seen + latency() + sample_rate() / 10;
        quiet = !waits;
        if (quiet && seen >= over) break;
        poll();
        std::this_thread::sleep_for(5ms);
    }
    poll();
}

Session open(const std::filesystem::path& given, const OpenSettings& settings) {
    const std::filesystem::path folder = runtime::beside_program(given);
    LoadResult loaded = load_project(folder);
    for (const Finding& finding : loaded.findings)
        if (finding.severity != Severity::note) model::to_standard_error(to_string(finding));
    Session opened(std::move(loaded.project), settings.close_within);
    if (settings.reload) opened.reload_ = std::make_unique<Reload>(opened, folder);
    return opened;
}

} // namespace kiai::inline v0
