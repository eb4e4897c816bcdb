#include "core/engine/shared.h"

#include "core/model/numbered.h"
#include "core/model/standard_error.h"

#include <algorithm>
#include <utility>

namespace kiai::inline v0 {

namespace {
/// Returns about how many names a project has.
std::size_t names_in(const model::Project& project) {
    return project.sounds.size() + project.bindings.size() + project.zones.size() + project.sequences.size() +
           project.dials.size() + project.motions.size();
}

/// Returns the names in the order of their numbers.
std::vector<std::string> numbered(const model::Project& project) {
    std::vector<std::string> texts;
    for (model::NumberedName& name : model::numbered_names(project)) texts.push_back(std::move(name.text));
    return texts;
}
} // namespace

EngineShared::EngineShared(Project to_play, const mixer::CoreSettings& core_settings)
    : settings(core_settings), names(names_in(to_play.data()), numbered(to_play.data())),
      editions(std::move(to_play), names, settings), core(editions.newest().plan, editions, settings),
      intake(settings, names, core), translator(editions, names, core.journal(), settings.rate),
      recorder(editions, names, core, settings.rate), end_calls(core.handles()), usage(settings.rate) {
    editions.write_to(core.journal());
    start_streams(editions.newest().given.data());
}

void EngineShared::start_streams(const model::Project& project) {
    if (std::any_of(project.clips.begin(), project.clips.end(),
                    [](const model::Clip& clip) { return clip.streamed(); }))
        core.streams().start();
}

/// Only the append takes the lock that calls of the app also take. What takes long happens before.
void EngineShared::set_project(Project project) {
    const std::lock_guard one_at_a_time(changing_);
    const engine::Edition* before = nullptr;
    {
        const std::lock_guard guard(mutex);
        before = &editions.newest();
    }
    auto next = editions.build(std::move(project), *before);
    start_streams(next->given.data());
    const std::lock_guard guard(mutex);
    editions.append(std::move(next));
}

Project EngineShared::newest() {
    const std::lock_guard guard(mutex);
    return editions.newest().given;
}

void EngineShared::poll() {
    decisions::Record record;
    while (core.journal().read(record)) {
        if (record.outcome == Outcome::changed) {
            const std::lock_guard guard(mutex);
            editions.read_on(record.count);
            recorder.note_change(record);
        }
        const Decision decision = translator.translate(record);
        memory.take(decision);
        call_app([&] { usage.take(decision, translator.told(), intake.pointed(), doubts); });
        const auto sink = log; // a callback may set another
        if (*sink) call_app([&] { (*sink)(decision); });
        for (std::size_t i = 0; i < more_logs.size(); ++i) // a callback may add another
            if (const auto another = more_logs[i].lock()) call_app([&] { (*another)(decision); });
    }
    std::erase_if(more_logs, [](const auto& another) { return another.expired(); });
    std::vector<std::shared_ptr<Insert>>
        unused; // they go without the lock, since their destructors may call the engine
    {
        const std::lock_guard guard(mutex);
        editions.let_go(); // what nothing plays any longer
        unused = core.inserts().take_unused();
    }
    unused.clear();
    hand_on_mix();
    warn_of_limits();
    recorder.read_served();
    intake.forget_ended_numbers();
    end_calls.call_ended([this](const auto& call) { call_app(call); });
}

void EngineShared::hand_on_mix() {
    constexpr std::size_t at_once = 4096;
    if (!mix_sink) return;
    mix_.resize(at_once);
    while (const std::size_t count = core.tap().read(mix_)) {
        const auto sink = mix_sink; // a callback may set another
        if (sink) call_app([&] { sink(std::span<const float>(mix_.data(), count)); });
    }
}

/// Checks once a second, so that one slow block is not yet a warning.
void EngineShared::warn_of_limits() {
    if (core.now() - looked_at_ < settings.rate) return;
    looked_at_ = core.now();
    call_app([&] { usage.look(core.load(), core.inserts().live(), translator.told(), doubts); });
}

void EngineShared::app_threw(const char* what) noexcept {
    if (threw_) return;
    threw_ = true;
    const auto report = [&] {
        const Finding finding{FindingCode::callback_threw,
                              usual_severity(FindingCode::callback_threw),
                              {},
                              0,
                              0,
                              std::string("a callback of your app threw an exception: ") + what,
                              "catch it in the callback",
                              {},
                              {},
                              {}};
        if (doubts) doubts(finding);
    };
    model::guarded(report, [](const char*) { // what reports it throws as well
        model::to_standard_error("kiai: a callback of your app threw an exception; catch it in the callback");
    });
}

} // namespace kiai::inline v0
