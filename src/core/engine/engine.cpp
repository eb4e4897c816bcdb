// The public Engine: turns the calls of the app into commands.
#include "core/engine/present.h"
#include "core/engine/shared.h"
#include "core/model/one_line.h"
#include "core/model/standard_error.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <random>
#include <set>

namespace kiai::inline v0 {

namespace {

mixer::CoreSettings in_range(const EngineSettings& settings) {
    mixer::CoreSettings core;
    core.rate = std::clamp(settings.sample_rate, 8000, 192000);
    core.seed = settings.seed ? *settings.seed
                              : (static_cast<std::uint64_t>(std::random_device{}()) << 32 | std::random_device{}());
    core.voices = std::clamp(settings.voices, 1, 65536);
    core.reports = std::bit_ceil(static_cast<std::size_t>(std::clamp(settings.reports, 16, 1 << 20)));
    core.streams = std::clamp(settings.streams, 0, 256);
    core.synchronous_streams = settings.synchronous_streams;
    core.portable_kernels = settings.portable_kernels;
    core.record_levels = settings.record_levels && !settings.decide_only;
    core.decide_only = settings.decide_only;
    return core;
}

/// Returns the entry with that name, or null.
template<class Entry>
std::optional<int> number_of(const std::vector<Entry>& entries, std::string_view name) {
    const auto found =
        std::find_if(entries.begin(), entries.end(), [&](const Entry& one) { return !one.gone && one.name == name; });
    if (found == entries.end()) return std::nullopt;
    return static_cast<int>(found - entries.begin());
}

/// Returns a number outside of every range for a playhead below 0.
std::uint64_t number_of(int playhead) noexcept {
    return static_cast<std::uint64_t>(static_cast<std::int64_t>(playhead));
}

/// Returns true if the decision is about a wrong call of the app.
bool is_mistake(Outcome outcome) noexcept {
    switch (outcome) {
    case Outcome::unknown_name:
    case Outcome::unknown_value:
    case Outcome::bad_number:
    case Outcome::out_of_range:
    case Outcome::ring_full:
    case Outcome::names_full:
    case Outcome::calendar_full:
    case Outcome::insert_off:
    case Outcome::insert_slow:
    case Outcome::mix_lost:
        return true;
    default:
        return false;
    }
}

/// The log of an app that has set none: prints each mistake once.
class MistakesOnce {
  public:
    void operator()(const Decision& decision) {
        if (!is_mistake(decision.outcome) && !(decision.outcome == Outcome::no_binding && !decision.nearest.empty()))
            return;
        if (said_.size() >= most) return;
        const std::string line = decision.outcome == Outcome::ring_full || decision.outcome == Outcome::names_full
                                     ? to_string(decision.outcome)
                                     : describe(decision);
        if (said_.insert(line).second) model::to_standard_error("kiai: " + model::one_line(describe(decision)));
    }

  private:
    static constexpr std::size_t most = 1000;
    std::set<std::string> said_;
};

} // namespace

Engine::Engine(Project project, const EngineSettings& settings)
    : shared_(std::make_shared<EngineShared>(std::move(project), in_range(settings))) {
    set_log(MistakesOnce{});
    shared_->doubts = [](const Finding& finding) {
        if (finding.severity != Severity::note && finding.accepted.empty())
            model::to_standard_error(to_string(finding));
    };
}
Engine::~Engine() = default;
Engine::Engine(Engine&&) noexcept = default;
Engine& Engine::operator=(Engine&&) noexcept = default;

bool Engine::report(const Report& report, std::optional<Frames> at) {
    const Frames due = at ? std::max<Frames>(*at, 0) : mixer::next_block;
    if (report.kind >= ReportKind::enter) return false; // apps cannot report what the engine finds out
    engine::Intake& intake = shared_->intake;
    if (report.kind >= ReportKind::play_stop && report.kind <= ReportKind::play_seek) {
        const double value = report.kind == ReportKind::play_seek ? report.options.start.count() : report.value;
        return intake.tell(intake.handle_of(report.pair), {report.kind, value, report.over, report.name}, due);
    }
    const bool begins = report.kind == ReportKind::play || report.kind == ReportKind::crossfade;
    mixer::Handles::Handle handle, with;
    if (report.kind == ReportKind::crossfade && report.from_pair != 0) with = intake.handle_of(report.from_pair);
    if (begins && report.pair != 0) handle = intake.claim(report.pair);
    PlayOptions options = report.options;
    options.bus = report.bus;
    options.at.reset();
    return intake.take(report.kind, report.name, report.other,
                       {report.point, report.pointer, options, report.value, due, handle, begins ? 0 : report.pair,
                        report.values, report.over, report.size, false, with, report.target,
                        report.kind == ReportKind::wind_down ? std::max(report.over, Seconds(0)) : report.fade,
                        report.moment, report.from});
}

void Engine::press(Point point, std::uint64_t pointer) {
    shared_->intake.take(ReportKind::press, {}, {}, {.point = point, .pointer = pointer});
}

void Engine::release(std::uint64_t pointer) {
    shared_->intake.take(ReportKind::release, {}, {}, {.pointer = pointer});
}

void Engine::key_down(std::string_view code) {
    shared_->intake.take(ReportKind::key_down, code, {}, {});
}

void Engine::key_up(std::string_view code) {
    shared_->intake.take(ReportKind::key_up, code, {}, {});
}

void Engine::click(Point point, std::uint64_t pointer) {
    press(point, pointer);
    release(pointer);
}

void Engine::key_tap(std::string_view code) {
    key_down(code);
    key_up(code);
}

void Engine::pointer(Point point, std::uint64_t pointer) {
    shared_->intake.take(ReportKind::pointer, {}, {}, {.point = point, .pointer = pointer});
}

void Engine::pointer_gone(std::uint64_t pointer) {
    shared_->intake.take(ReportKind::pointer_gone, {}, {}, {.pointer = pointer});
}

void Engine::contact(ContactName kind, ContactName other, Contact touch) {
    PlayOptions options;
    options.strength = touch.strength;
    options.place = touch.place;
    shared_->intake.take(ReportKind::contact, kind, other, {.options = options, .pair = touch.pair});
}

void Engine::contact_end(std::uint64_t pair) {
    shared_->intake.take(ReportKind::contact_end, {}, {}, {.pair = pair});
}

void Engine::body(std::uint64_t number, ContactName kind, Point middle, float radius, std::optional<Seconds> moment) {
    shared_->intake.take(ReportKind::body, kind, {},
                         {.point = middle, .value = radius, .pair = number, .moment = moment});
}

void Engine::body_box(std::uint64_t number, ContactName kind, Point middle, Point size, std::optional<Seconds> moment) {
    shared_->intake.take(ReportKind::body, kind, {}, {.point = middle, .pair = number, .size = size, .moment = moment});
}

void Engine::body_gone(std::uint64_t number) {
    shared_->intake.take(ReportKind::body_gone, {}, {}, {.pair = number});
}

void Engine::notice(NoticeName name, std::span<const NamedValue> values) {
    shared_->intake.take(ReportKind::notice, name, {}, {.values = values});
}

void Engine::playhead(MotionName motion, float frame, int playhead) {
    shared_->intake.take(ReportKind::playhead, motion, {}, {.pointer = number_of(playhead), .value = frame});
}

void Engine::playhead(MotionName motion, Seconds at, int playhead) {
    shared_->intake.take(ReportKind::playhead, motion, {},
                         {.pointer = number_of(playhead), .value = at.count(), .in_seconds = true});
}

void Engine::playhead_gone(MotionName motion, int playhead) {
    shared_->intake.take(ReportKind::playhead_gone, motion, {}, {.pointer = number_of(playhead)});
}

void Engine::set_dial(DialName name, float value) {
    shared_->intake.take(ReportKind::dial, name, {}, {.value = value});
}

void Engine::enter_scope(ScopeName name) {
    shared_->intake.take(ReportKind::scope_enter, name, {}, {});
}

void Engine::leave_scope(ScopeName name) {
    shared_->intake.take(ReportKind::scope_leave, name, {}, {});
}

void Engine::pause_scope(ScopeName name) {
    shared_->intake.take(ReportKind::scope_pause, name, {}, {});
}

void Engine::resume_scope(ScopeName name) {
    shared_->intake.take(ReportKind::scope_resume, name, {}, {});
}

void Engine::move_zone(ZoneName name, Point middle, float scale) {
    shared_->intake.take(ReportKind::zone, name, {}, {.point = middle, .value = scale});
}

void Engine::remove_zone(ZoneName name) {
    shared_->intake.take(ReportKind::zone_gone, name, {}, {});
}

void Engine::input_lost() {
    shared_->intake.take(ReportKind::input_lost, {}, {}, {});
}

Play Engine::play(SoundName name, PlayOptions options, ScopeName scope) {
    const auto handle = shared_->intake.begin(ReportKind::play, name, scope, {.options = options});
    return Play(shared_, handle.slot, handle.generation);
}

Play Engine::play(SoundName name, const Play& with, PlayOptions options, ScopeName scope) {
    const auto handle = shared_->intake.begin(ReportKind::play, name, scope,
                                              {.options = options, .with = {with.slot_, with.generation_}});
    return Play(shared_, handle.slot, handle.generation);
}

Play Engine::play_of(std::uint64_t id) const {
    const auto slot = static_cast<std::uint32_t>(id), generation = static_cast<std::uint32_t>(id >> 32);
    return generation == 0 ? Play() : Play(shared_, slot, generation);
}

void Engine::stop(Target what) {
    shared_->intake.take(ReportKind::stop, what.name, {}, {.target = what.kind});
}

void Engine::stop(Target what, Seconds fade) {
    shared_->intake.take(ReportKind::stop, what.name, {}, {.target = what.kind, .fade = std::max(fade, Seconds(0))});
}

void Engine::toggle(SoundName sound) {
    shared_->intake.take(ReportKind::toggle, sound, {}, {});
}

void Engine::pause(Target what) {
    shared_->intake.take(ReportKind::pause, what.name, {}, {.target = what.kind});
}

void Engine::resume(Target what) {
    shared_->intake.take(ReportKind::resume, what.name, {}, {.target = what.kind});
}

void Engine::restart(Target what) {
    shared_->intake.take(ReportKind::restart, what.name, {}, {.target = what.kind});
}

Play Engine::crossfade(Target from, SoundName to, Seconds over, PlayOptions options, ScopeName scope) {
    const auto handle = shared_->intake.begin(
        ReportKind::crossfade, to, scope,
        {.options = options, .target = from.kind, .fade = std::max(over, Seconds(0)), .from = from.name});
    return Play(shared_, handle.slot, handle.generation);
}

Play Engine::crossfade(const Play& from, SoundName to, Seconds over, PlayOptions options, ScopeName scope) {
    const auto handle = shared_->intake.begin(ReportKind::crossfade, to, scope,
                                              {.options = options,
                                               .with = {from.slot_, from.generation_},
                                               .target = ActionTarget::none,
                                               .fade = std::max(over, Seconds(0))});
    return Play(shared_, handle.slot, handle.generation);
}

void Engine::run(SequenceName sequence) {
    shared_->intake.take(ReportKind::run, sequence, {}, {});
}

void Engine::set_bus_gain(BusName bus, Decibels gain, Seconds over) {
    if (!shared_->intake.take(ReportKind::bus_gain, bus, {}, {.value = gain, .over = over})) return;
    const std::lock_guard guard(shared_->mutex);
    if (std::isfinite(gain)) shared_->buses[std::string(bus.text())].gain = std::clamp(gain, -120.0f, 24.0f);
}

void Engine::mute_bus(BusName bus, bool on) {
    if (!shared_->intake.take(ReportKind::bus_mute, bus, {}, {.value = on ? 1.0f : 0.0f})) return;
    const std::lock_guard guard(shared_->mutex);
    shared_->buses[std::string(bus.text())].muted = on;
}

Decibels Engine::bus_gain(BusName bus) const {
    const std::lock_guard guard(shared_->mutex);
    const auto found = shared_->buses.find(bus.text());
    return found == shared_->buses.end() ? 0 : found->second.gain;
}

bool Engine::bus_muted(BusName bus) const {
    const std::lock_guard guard(shared_->mutex);
    const auto found = shared_->buses.find(bus.text());
    return found != shared_->buses.end() && found->second.muted;
}

BusLevel Engine::bus_level(BusName bus) const {
    const std::lock_guard guard(shared_->mutex);
    const auto number = number_of(shared_->editions.newest().plan.project().buses, bus.text());
    if (!number) return {};
    shared_->core.meters().ask(*number);
    return shared_->core.meters().level(*number);
}

std::optional<float> Engine::dial(DialName name) const {
    const std::lock_guard guard(shared_->mutex);
    const engine::Edition& playing = shared_->editions.playing();
    const auto number = number_of(playing.plan.project().dials, name.text());
    if (!number) return std::nullopt;
    return static_cast<float>(playing.router.dial(*number));
}

ScopeState Engine::scope(ScopeName name) const {
    const std::lock_guard guard(shared_->mutex);
    const engine::Edition& playing = shared_->editions.playing();
    const auto number = number_of(playing.plan.project().scopes, name.text());
    return number ? playing.router.scope(*number) : ScopeState::off;
}

std::optional<ZonePlace> Engine::zone(ZoneName name) const {
    const std::lock_guard guard(shared_->mutex);
    const engine::Edition& playing = shared_->editions.playing();
    const auto number = number_of(playing.plan.project().zones, name.text());
    if (!number) return std::nullopt;
    return playing.router.zone(*number);
}

std::vector<PlayingNow> Engine::plays() const {
    return engine::plays_now(*shared_);
}

std::vector<WaitingTimer> Engine::timers() const {
    return engine::waiting_timers(*shared_);
}

Load Engine::load() const {
    Load load = shared_->core.load();
    const std::lock_guard guard(shared_->mutex);
    const engine::Edition& newest = shared_->editions.newest();
    load.memory = newest.given.memory() + newest.plan.converted();
    return load;
}

bool Engine::set_insert(BusName bus, std::shared_ptr<Insert> insert) {
    const auto find = [&] { return number_of(shared_->editions.newest().plan.project().buses, bus.text()); };
    {
        const std::lock_guard guard(shared_->mutex);
        if (!find()) return false;
    }
    bool ready = true;
    Seconds tail{0};
    const auto prepare = [&] { // without the lock: it may call the engine
        if (!insert) return;
        insert->prepare(sample_rate(), mixer::Plays::most_frames);
        tail = insert->tail();
    };
    model::guarded(prepare, [&](const char* what) {
        ready = false;
        model::to_standard_error("kiai: the insert of bus \"" + std::string(bus.text()) +
                                 "\" threw an exception before it was used: " + what);
    });
    std::vector<std::shared_ptr<Insert>> unused; // goes after the lock
    const std::lock_guard guard(shared_->mutex);
    const auto number = find();
    if (!number || !ready) return false;
    shared_->core.inserts().set(*number, std::move(insert), std::isfinite(tail.count()) ? tail : Seconds(1));
    unused = shared_->core.inserts().take_unused();
    return true;
}

void Engine::set_mix_sink(std::function<void(std::span<const float>)> sink, Seconds room) {
    shared_->mix_sink = std::move(sink);
    if (!shared_->mix_sink) return shared_->core.tap().turn_off();
    const double seconds = std::isfinite(room.count()) ? std::clamp(room.count(), 0.1, 60.0) : 2;
    shared_->core.tap().turn_on(static_cast<std::size_t>(seconds * sample_rate()));
}

void Engine::live(bool on) noexcept {
    shared_->core.inserts().live(on);
}

void Engine::wind_down(Seconds fade) {
    shared_->intake.take(ReportKind::wind_down, {}, {}, {.fade = std::max(fade, Seconds(0))});
}

void Engine::render(std::span<float> out) noexcept {
    shared_->core.render(out);
}

Frames Engine::now() const noexcept {
    return shared_->core.now();
}

Frames Engine::latency() const noexcept {
    return shared_->core.latency();
}

int Engine::sounding() const noexcept {
    return shared_->core.sounding();
}

int Engine::looping() const noexcept {
    return shared_->core.looping();
}

int Engine::waiting() const noexcept {
    return shared_->core.waiting();
}

int Engine::sample_rate() const noexcept {
    return shared_->settings.rate;
}

std::uint64_t Engine::seed() const noexcept {
    return shared_->settings.seed;
}

Project Engine::project() const {
    return shared_->newest();
}

void Engine::set_project(Project project) {
    shared_->set_project(std::move(project));
}

void Engine::poll() {
    const auto shared = shared_; // a callback may destroy the engine
    shared->poll();
}

void Engine::start_recording() {
    shared_->recorder.start(seed());
}

Trace Engine::stop_recording(std::uint64_t* lost) {
    return shared_->recorder.stop(lost);
}

void Engine::set_log(std::function<void(const Decision&)> sink) {
    shared_->log = std::make_shared<const std::function<void(const Decision&)>>(std::move(sink));
}

std::shared_ptr<void> Engine::add_log(std::function<void(const Decision&)> sink) {
    const auto added = std::make_shared<const std::function<void(const Decision&)>>(std::move(sink));
    shared_->more_logs.push_back(added);
    return std::const_pointer_cast<std::function<void(const Decision&)>>(added);
}

void Engine::begin_block(std::chrono::steady_clock::time_point block, Frames delay) noexcept {
    live(true);
    shared_->intake.begin_block(now(), block, std::max<Frames>(delay, 0));
}

void Engine::set_findings(std::function<void(const Finding&)> sink) {
    shared_->doubts = std::move(sink);
}

std::vector<Decision> Engine::recent_decisions() const {
    return shared_->memory.all();
}

std::size_t Engine::read_levels(std::span<PlayLevel> into) {
    std::size_t count = 0;
    while (count < into.size() && shared_->core.journal().read_level(into[count])) ++count;
    return count;
}

} // namespace kiai::inline v0
