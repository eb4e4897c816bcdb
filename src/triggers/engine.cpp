// The public Engine: one call in, one fixed-size command on; records out, decisions on.
#include <kiai/engine.h>

#include "engine/core.h"
#include "model/near.h"
#include "triggers/router.h"

#include "dsp/math.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <iostream>
#include <random>
#include <set>

namespace kiai::inline v0 {

using engine::Command;
using engine::CommandKind;
using engine::Record;

namespace {

engine::CoreSettings in_range(const EngineSettings& settings) {
    engine::CoreSettings core;
    core.rate = std::clamp(settings.sample_rate, 8000, 192000);
    core.seed = settings.seed ? *settings.seed
                              : (static_cast<std::uint64_t>(std::random_device{}()) << 32 | std::random_device{}());
    core.voices = std::clamp(settings.voices, 1, 65536);
    core.reports = std::bit_ceil(static_cast<std::size_t>(std::clamp(settings.reports, 16, 1 << 20)));
    core.streams = std::clamp(settings.streams, 0, 256);
    core.streams_in_step = settings.streams_in_step;
    core.plain_kernels = settings.plain_kernels;
    core.keep_levels = settings.keep_levels;
    return core;
}

/// Marks a number that is not finite, and holds one that is out of range.
void check(Command& command, float& value, float low, float high) noexcept {
    if (!std::isfinite(value)) {
        command.bad = true;
        return;
    }
    const float held = std::clamp(value, low, high);
    if (held != value) command.held = true;
    value = held;
}

Command ending(CommandKind kind, Seconds fade) noexcept {
    Command command;
    command.kind = kind;
    command.report = ReportKind::stop;
    command.bad = !std::isfinite(fade.count());
    command.fade = static_cast<float>(std::min(fade.count(), 3600.0));
    return command;
}

/// What the app got wrong, rather than what happened.
bool is_mistake(Outcome outcome) noexcept {
    switch (outcome) {
    case Outcome::unknown_name:
    case Outcome::unknown_value:
    case Outcome::bad_number:
    case Outcome::out_of_range:
    case Outcome::ring_full:
        return true;
    default:
        return false;
    }
}

/// The sink of an app that has set none: each mistake once.
class MistakesOnce {
  public:
    void operator()(const Decision& decision) {
        if (!is_mistake(decision.outcome) && !(decision.outcome == Outcome::no_binding && !decision.nearest.empty()))
            return;
        if (said_.size() >= most) return;
        const std::string line =
            decision.outcome == Outcome::ring_full ? to_string(decision.outcome) : describe(decision);
        if (said_.insert(line).second) std::cerr << "kiai: " << describe(decision) << '\n';
    }

  private:
    static constexpr std::size_t most = 1000;
    std::set<std::string> said_;
};

} // namespace

/// The numbers of a report.
struct Numbers {
    Point point{};
    int pointer = 0;
    PlayOptions options{};
    float value = 0;
    Frames due = engine::next_block;
    engine::Handles::Handle handle{};
};

class EngineShared {
  public:
    EngineShared(Project to_play, const engine::CoreSettings& core_settings)
        : project(std::move(to_play)), settings(core_settings), plan(project.shared(), names, settings.rate),
          router(plan, names, settings.reports), core(plan, router, settings) {
        router.write_to(core.journal());
    }

    /// What every report comes through: names become numbers, numbers are held in range. [any]
    bool take(ReportKind kind, std::string_view name, std::string_view other, Numbers numbers);
    bool send(const Command& command) noexcept { return core.ring().push(command) != 0; }
    Decision translate(const Record& record);
    std::string nearest(const Decision& decision) const;

    Project project;
    engine::CoreSettings settings;
    engine::NameTable names;
    engine::Plan plan;
    triggers::Router router;
    engine::Core core;
    std::function<void(const Decision&)> log = MistakesOnce{};
};

std::string EngineShared::nearest(const Decision& decision) const {
    std::vector<std::string> known;
    if (decision.outcome == Outcome::unknown_name) {
        if (decision.trigger == ReportKind::dial)
            for (const model::Dial& dial : project.data().dials) known.push_back(dial.name);
        else
            for (const model::Sound& sound : project.data().sounds) known.push_back(sound.name);
        return model::nearest(decision.on, known);
    }
    if (decision.outcome == Outcome::unknown_value) {
        for (const engine::PlannedSound& planned : plan.sounds())
            if (planned.sound->name == decision.sound)
                for (const engine::NameId value : planned.own_names) known.push_back(names.text(value));
        return model::nearest(decision.on, known);
    }
    for (const model::Binding& binding : project.data().bindings) {
        if (binding.trigger != decision.trigger) continue;
        known.push_back(binding.name + (binding.other.empty() ? "" : "+" + binding.other));
        if (!binding.other.empty()) known.push_back(binding.other + "+" + binding.name);
    }
    return model::nearest(decision.on, known);
}

Decision EngineShared::translate(const Record& record) {
    Decision decision;
    decision.frame = record.frame;
    decision.outcome = record.outcome;
    decision.cause = record.cause;
    decision.trigger = record.trigger;
    decision.on = names.text(record.on);
    if (record.on_other != engine::no_name) decision.on += "+" + names.text(record.on_other);
    decision.binding = record.binding;
    if (record.sound >= 0) decision.sound = project.data().sounds[static_cast<std::size_t>(record.sound)].name;
    decision.play = record.play;
    decision.other = record.other;
    decision.reason = record.reason;
    if (record.outcome == Outcome::gave_way || record.outcome == Outcome::refused_limit) {
        const auto& data = project.data();
        decision.limit = record.limit == 0 ? "sound " + decision.sound
                                           : "bus " + data.buses[static_cast<std::size_t>(record.limit - 1)].name;
        decision.rule = model::to_string(record.rule);
    }
    decision.ended_by = record.ended_by;
    decision.level = static_cast<Decibels>(dsp::gain_to_db(record.peak));
    decision.length = record.length;
    decision.count = record.count;
    for (int l = 0; l < record.layers; ++l) {
        Record layer;
        if (!core.journal().read(layer)) break; // written in one with their head: never missing
        const auto share = static_cast<Decibels>(layer.share == 1 ? 0 : dsp::gain_to_db(layer.share));
        decision.layers.push_back({project.data().clips[static_cast<std::size_t>(layer.clip)].name, layer.pitch,
                                   layer.gain + share, layer.pan, layer.take, layer.takes, layer.length});
    }
    const bool is_press = record.trigger == ReportKind::press; // a zone's name cannot be misspelt by the app
    if (record.outcome == Outcome::unknown_name || record.outcome == Outcome::unknown_value ||
        (record.outcome == Outcome::no_binding && !is_press))
        decision.nearest = nearest(decision);
    return decision;
}

Engine::Engine(Project project, const EngineSettings& settings)
    : shared_(std::make_shared<EngineShared>(std::move(project), in_range(settings))) {}
Engine::~Engine() = default;
Engine::Engine(Engine&&) noexcept = default;
Engine& Engine::operator=(Engine&&) noexcept = default;

bool EngineShared::take(ReportKind kind, std::string_view name, std::string_view other, Numbers numbers) {
    Command command;
    command.due = numbers.due;
    command.report = kind;
    if (!name.empty()) command.name = names.add(name);
    if (!other.empty()) command.other = names.add(other);
    command.point = numbers.point;
    command.options = numbers.options;
    command.value = numbers.value;
    if (!std::isfinite(command.value)) command.bad = true;
    command.handle = numbers.handle.slot;
    command.generation = numbers.handle.generation;
    command.pointer = static_cast<std::uint8_t>(std::clamp(numbers.pointer, 0, triggers::most_pointers - 1));
    command.held = command.pointer != numbers.pointer;
    if (!std::isfinite(numbers.point.x) || !std::isfinite(numbers.point.y)) command.bad = true;
    check(command, command.options.gain, -120, 24);
    check(command, command.options.pitch, -48, 48);
    check(command, command.options.pan, -1, 1);
    check(command, command.options.strength, 0, 1e9f);
    check(command, command.options.place, -1, 1);
    if (send(command)) return true;
    core.handles().end(numbers.handle, EndReason::none);
    return false;
}

bool Engine::report(const Report& report, std::optional<Frames> at) {
    return shared_->take(report.kind, report.name, report.other,
                         {report.point,
                          report.pointer,
                          report.options,
                          report.value,
                          at ? std::max<Frames>(*at, 0) : engine::next_block,
                          {}});
}

void Engine::press(Point point, int pointer) {
    shared_->take(ReportKind::press, {}, {}, {.point = point, .pointer = pointer});
}

void Engine::release(int pointer) {
    shared_->take(ReportKind::release, {}, {}, {.pointer = pointer});
}

void Engine::key_down(std::string_view code) {
    shared_->take(ReportKind::key_down, code, {}, {});
}

void Engine::key_up(std::string_view code) {
    shared_->take(ReportKind::key_up, code, {}, {});
}

void Engine::contact(std::string_view kind, std::string_view other, Touch touch) {
    PlayOptions options;
    options.strength = touch.strength;
    options.place = touch.place;
    shared_->take(ReportKind::contact, kind, other, {.options = options});
}

void Engine::notice(std::string_view name) {
    shared_->take(ReportKind::notice, name, {}, {});
}

Play Engine::play(std::string_view name, PlayOptions options) {
    const engine::Handles::Handle handle = shared_->core.handles().claim();
    shared_->take(ReportKind::play, name, {}, {.options = options, .handle = handle});
    return Play(shared_, handle.slot, handle.generation);
}

void Engine::stop(std::string_view sound) {
    shared_->take(ReportKind::stop, sound, {}, {});
}

void Engine::set_dial(std::string_view name, float value) {
    shared_->take(ReportKind::dial, name, {}, {.value = value});
}

void Engine::stop_loops(Seconds fade) {
    shared_->send(ending(CommandKind::stop_loops, std::max(fade, Seconds(0))));
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

int Engine::sample_rate() const noexcept {
    return shared_->settings.rate;
}

std::uint64_t Engine::seed() const noexcept {
    return shared_->settings.seed;
}

const Project& Engine::project() const noexcept {
    return shared_->project;
}

void Engine::poll() {
    Record record;
    while (shared_->core.journal().read(record)) {
        const Decision decision = shared_->translate(record);
        if (shared_->log) shared_->log(decision);
    }
}

void Engine::set_log(std::function<void(const Decision&)> sink) {
    shared_->log = std::move(sink);
}

std::size_t Engine::read_levels(std::span<PlayLevel> into) {
    std::size_t count = 0;
    while (count < into.size() && shared_->core.journal().read_level(into[count])) ++count;
    return count;
}

bool Play::playing() const noexcept {
    const auto engine = engine_.lock();
    return engine && engine->core.handles().playing({slot_, generation_});
}

EndReason Play::reason() const noexcept {
    const auto engine = engine_.lock();
    return engine ? engine->core.handles().reason({slot_, generation_}) : EndReason::none;
}

void Play::stop() noexcept {
    end(Seconds(-1));
}

void Play::stop(Seconds fade) noexcept {
    end(std::max(fade, Seconds(0)));
}

void Play::end(Seconds fade) noexcept {
    const auto engine = engine_.lock();
    if (!engine) return;
    Command command = ending(CommandKind::stop_play, fade);
    command.handle = slot_;
    command.generation = generation_;
    engine->send(command);
}

void Play::set_gain(Decibels gain) noexcept {
    const auto engine = engine_.lock();
    if (!engine) return;
    Command command;
    command.kind = CommandKind::gain_play;
    command.report = ReportKind::play;
    command.handle = slot_;
    command.generation = generation_;
    command.options.gain = gain;
    check(command, command.options.gain, -120, 24);
    engine->send(command);
}

void Play::set(std::string_view value, float to) {
    const auto engine = engine_.lock();
    if (!engine) return;
    Command command;
    command.kind = CommandKind::value_play;
    command.report = ReportKind::play;
    command.name = engine->names.add(value);
    command.handle = slot_;
    command.generation = generation_;
    command.value = to;
    command.bad = !std::isfinite(to);
    engine->send(command);
}

} // namespace kiai::inline v0
