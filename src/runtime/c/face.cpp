// The C face: each function is one call of the engine, and checks first what a C program may get wrong.
#include "runtime/c/c_engine.h"
#include "runtime/system/beside_program.h"

#include <kiai/kiai.h>
#include <kiai_c.h>

#include <algorithm>
#include <cstring>
#include <memory>
#include <new>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace {

using kiai::Seconds;

static_assert(KIAI_REASON_ENGINE_GONE == static_cast<int>(kiai::EndReason::last));
static_assert(KIAI_REASON_SCOPE_OFF == static_cast<int>(kiai::EndReason::scope_off));
static_assert(KIAI_PAUSED == static_cast<int>(kiai::PlayState::paused));
static_assert(KIAI_SCOPE_IS_PAUSED == static_cast<int>(kiai::ScopeState::paused));
static_assert(KIAI_EVERYTHING == static_cast<int>(kiai::ActionTarget::everything));

/// Converts texts; a null pointer is an empty text.
template<class... Texts>
bool all_given(const Texts*... texts) noexcept {
    return (... && (texts != nullptr));
}

/// Makes a call, and turns its exception into a status.
template<class Call>
int guarded(bool given, const Call& call) noexcept {
    if (!given) return KIAI_BAD_ARGUMENT;
    try {
        call();
        return KIAI_OK;
    } catch (...) { // nothing but memory fails
        return KIAI_NO_MEMORY;
    }
}

/// The same for a call that returns something; `otherwise` after an exception.
template<class Result, class Call>
Result asked(bool given, Result otherwise, const Call& call) noexcept {
    if (!given) return otherwise;
    try {
        return call();
    } catch (...) {
        return otherwise;
    }
}

std::optional<kiai::Target> target_of(int target, const char* name) noexcept {
    if (target == KIAI_EVERYTHING) return kiai::Target::everything();
    if (!name) return std::nullopt;
    switch (target) {
    case KIAI_SOUND:
        return kiai::Target(name);
    case KIAI_BUS:
        return kiai::Target::bus(name);
    case KIAI_SCOPE:
        return kiai::Target::scope(name);
    case KIAI_SEQUENCE:
        return kiai::Target::sequence(name);
    default:
        return std::nullopt;
    }
}

kiai_engine* make(const char* project, bool heard, const kiai::EngineSettings& settings) noexcept {
    if (!project) return nullptr;
    try {
        return new kiai_engine(kiai::load_project(kiai::runtime::beside_program(project)), heard, settings);
    } catch (...) {
        return nullptr;
    }
}

std::function<void(std::string_view)> call_of(kiai_sink sink, void* user) {
    return [sink, user](std::string_view line) { sink(user, std::string(line).c_str()); };
}

} // namespace

extern "C" {

int kiai_c_version(void) {
    return KIAI_C_VERSION;
}

const char* kiai_version(void) {
    return kiai::version;
}

const char* kiai_status_text(int status) {
    switch (status) {
    case KIAI_OK:
        return "done";
    case KIAI_BAD_ARGUMENT:
        return "an argument is null or invalid";
    case KIAI_NO_MEMORY:
        return "there is not enough memory";
    case KIAI_HAS_ERRORS:
        return "the project has errors; see kiai_finding";
    case KIAI_UNKNOWN:
        return "the project has no entry of that name";
    default:
        return "unknown status";
    }
}

kiai_engine* kiai_open(const char* project) {
    return make(project, true, {});
}

kiai_engine* kiai_open_silent(const char* project, int sample_rate, uint64_t seed) {
    return make(project, false, {.sample_rate = sample_rate, .seed = seed});
}

void kiai_close(kiai_engine* engine) {
    delete engine;
}

int kiai_reload(kiai_engine* engine, const char* project) {
    bool taken = false;
    const int status = guarded(all_given(engine, project), [&] {
        kiai::LoadResult loaded =
            kiai::load_project(kiai::runtime::beside_program(project), {.reuse = engine->get().project()});
        engine->findings = loaded.findings;
        taken = loaded.ok();
        if (taken) engine->get().set_project(std::move(loaded.project));
    });
    return status == KIAI_OK && !taken ? KIAI_HAS_ERRORS : status;
}

int kiai_findings(const kiai_engine* engine) {
    return engine ? static_cast<int>(engine->findings.size()) : 0;
}

size_t kiai_finding(const kiai_engine* engine, int number, char* text, size_t size) {
    if (number < 0 || number >= kiai_findings(engine)) return 0;
    return asked(true, size_t{0}, [&] {
        return kiai::runtime::put(to_string(engine->findings[static_cast<std::size_t>(number)]), text, size);
    });
}

int kiai_press(kiai_engine* engine, float x, float y, uint64_t pointer) {
    return guarded(engine, [&] { engine->get().press({x, y}, pointer); });
}

int kiai_release(kiai_engine* engine, uint64_t pointer) {
    return guarded(engine, [&] { engine->get().release(pointer); });
}

int kiai_click(kiai_engine* engine, float x, float y, uint64_t pointer) {
    return guarded(engine, [&] { engine->get().click({x, y}, pointer); });
}

int kiai_pointer(kiai_engine* engine, float x, float y, uint64_t pointer) {
    return guarded(engine, [&] { engine->get().pointer({x, y}, pointer); });
}

int kiai_pointer_gone(kiai_engine* engine, uint64_t pointer) {
    return guarded(engine, [&] { engine->get().pointer_gone(pointer); });
}

int kiai_key_down(kiai_engine* engine, const char* code) {
    return guarded(all_given(engine, code), [&] { engine->get().key_down(code); });
}

int kiai_key_up(kiai_engine* engine, const char* code) {
    return guarded(all_given(engine, code), [&] { engine->get().key_up(code); });
}

int kiai_key_tap(kiai_engine* engine, const char* code) {
    return guarded(all_given(engine, code), [&] { engine->get().key_tap(code); });
}

int kiai_contact(kiai_engine* engine, const char* kind, const char* other, float strength, float place, uint64_t pair) {
    return guarded(all_given(engine, kind, other),
                   [&] { engine->get().contact(kind, other, {.strength = strength, .place = place, .pair = pair}); });
}

int kiai_contact_end(kiai_engine* engine, uint64_t pair) {
    return guarded(engine, [&] { engine->get().contact_end(pair); });
}

int kiai_body(kiai_engine* engine, uint64_t number, const char* kind, float x, float y, float radius) {
    return guarded(all_given(engine, kind), [&] { engine->get().body(number, kind, {x, y}, radius); });
}

int kiai_body_box(kiai_engine* engine, uint64_t number, const char* kind, float x, float y, float width, float height) {
    return guarded(all_given(engine, kind), [&] { engine->get().body_box(number, kind, {x, y}, {width, height}); });
}

int kiai_body_gone(kiai_engine* engine, uint64_t number) {
    return guarded(engine, [&] { engine->get().body_gone(number); });
}

int kiai_notice(kiai_engine* engine, const char* name, const char* const* names, const float* values, int count) {
    const bool listed = count == 0 || (count > 0 && all_given(names, values) &&
                                       std::all_of(names, names + count, [](const char* one) { return one; }));
    return guarded(all_given(engine, name) && listed, [&] {
        std::vector<kiai::NamedValue> all;
        for (int i = 0; i < count; ++i) all.push_back({names[i], values[i]});
        engine->get().notice(name, all);
    });
}

int kiai_playhead(kiai_engine* engine, const char* motion, float frame, int playhead) {
    return guarded(all_given(engine, motion), [&] { engine->get().playhead(motion, frame, playhead); });
}

int kiai_playhead_gone(kiai_engine* engine, const char* motion, int playhead) {
    return guarded(all_given(engine, motion), [&] { engine->get().playhead_gone(motion, playhead); });
}

int kiai_set_dial(kiai_engine* engine, const char* dial, float value) {
    return guarded(all_given(engine, dial), [&] { engine->get().set_dial(dial, value); });
}

int kiai_enter_scope(kiai_engine* engine, const char* scope) {
    return guarded(all_given(engine, scope), [&] { engine->get().enter_scope(scope); });
}

int kiai_leave_scope(kiai_engine* engine, const char* scope) {
    return guarded(all_given(engine, scope), [&] { engine->get().leave_scope(scope); });
}

int kiai_pause_scope(kiai_engine* engine, const char* scope) {
    return guarded(all_given(engine, scope), [&] { engine->get().pause_scope(scope); });
}

int kiai_resume_scope(kiai_engine* engine, const char* scope) {
    return guarded(all_given(engine, scope), [&] { engine->get().resume_scope(scope); });
}

int kiai_move_zone(kiai_engine* engine, const char* zone, float x, float y, float scale) {
    return guarded(all_given(engine, zone), [&] { engine->get().move_zone(zone, {x, y}, scale); });
}

int kiai_remove_zone(kiai_engine* engine, const char* zone) {
    return guarded(all_given(engine, zone), [&] { engine->get().remove_zone(zone); });
}

int kiai_input_lost(kiai_engine* engine) {
    return guarded(engine, [&] { engine->get().input_lost(); });
}

kiai_play_id kiai_play(kiai_engine* engine, const char* sound, const char* scope) {
    return asked(all_given(engine, sound), kiai_play_id{0}, [&] {
        return engine->get().play(sound, {}, scope ? kiai::ScopeName(scope) : kiai::ScopeName()).id();
    });
}

int kiai_stop(kiai_engine* engine, int target, const char* name, double fade) {
    const auto what = target_of(target, name);
    return guarded(engine && what, [&] {
        if (fade < 0)
            engine->get().stop(*what);
        else
            engine->get().stop(*what, Seconds(fade));
    });
}

int kiai_pause(kiai_engine* engine, int target, const char* name) {
    const auto what = target_of(target, name);
    return guarded(engine && what, [&] { engine->get().pause(*what); });
}

int kiai_resume(kiai_engine* engine, int target, const char* name) {
    const auto what = target_of(target, name);
    return guarded(engine && what, [&] { engine->get().resume(*what); });
}

int kiai_restart(kiai_engine* engine, int target, const char* name) {
    const auto what = target_of(target, name);
    return guarded(engine && what, [&] { engine->get().restart(*what); });
}

int kiai_toggle(kiai_engine* engine, const char* sound) {
    return guarded(all_given(engine, sound), [&] { engine->get().toggle(sound); });
}

int kiai_run(kiai_engine* engine, const char* sequence) {
    return guarded(all_given(engine, sequence), [&] { engine->get().run(sequence); });
}

kiai_play_id kiai_crossfade(kiai_engine* engine, const char* from, const char* to, double seconds) {
    return asked(all_given(engine, from, to), kiai_play_id{0},
                 [&] { return engine->get().crossfade(kiai::Target(from), to, Seconds(seconds)).id(); });
}

int kiai_set_bus_gain(kiai_engine* engine, const char* bus, float gain, double seconds) {
    return guarded(all_given(engine, bus), [&] { engine->get().set_bus_gain(bus, gain, Seconds(seconds)); });
}

int kiai_mute_bus(kiai_engine* engine, const char* bus, int on) {
    return guarded(all_given(engine, bus), [&] { engine->get().mute_bus(bus, on != 0); });
}

int kiai_wind_down(kiai_engine* engine, double fade) {
    return guarded(engine, [&] { engine->get().wind_down(Seconds(fade)); });
}

int kiai_play_stop(kiai_engine* engine, kiai_play_id play, double fade) {
    return guarded(engine, [&] {
        kiai::Play handle = engine->get().play_of(play);
        if (fade < 0)
            handle.stop();
        else
            handle.stop(Seconds(fade));
    });
}

int kiai_play_pause(kiai_engine* engine, kiai_play_id play) {
    return guarded(engine, [&] { engine->get().play_of(play).pause(); });
}

int kiai_play_resume(kiai_engine* engine, kiai_play_id play) {
    return guarded(engine, [&] { engine->get().play_of(play).resume(); });
}

int kiai_play_seek(kiai_engine* engine, kiai_play_id play, double seconds) {
    return guarded(engine, [&] { engine->get().play_of(play).seek(Seconds(seconds)); });
}

int kiai_play_set_gain(kiai_engine* engine, kiai_play_id play, float gain, double seconds) {
    return guarded(engine, [&] { engine->get().play_of(play).set_gain(gain, Seconds(seconds)); });
}

int kiai_play_set_pitch(kiai_engine* engine, kiai_play_id play, float pitch, double seconds) {
    return guarded(engine, [&] { engine->get().play_of(play).set_pitch(pitch, Seconds(seconds)); });
}

int kiai_play_set_pan(kiai_engine* engine, kiai_play_id play, float pan, double seconds) {
    return guarded(engine, [&] { engine->get().play_of(play).set_pan(pan, Seconds(seconds)); });
}

int kiai_play_set(kiai_engine* engine, kiai_play_id play, const char* value, float to) {
    return guarded(all_given(engine, value), [&] { engine->get().play_of(play).set(value, to); });
}

int kiai_play_state_of(const kiai_engine* engine, kiai_play_id play) {
    return engine ? static_cast<int>(engine->get().play_of(play).state()) : KIAI_ENDED;
}

int kiai_play_reason(const kiai_engine* engine, kiai_play_id play) {
    return engine ? static_cast<int>(engine->get().play_of(play).reason()) : KIAI_REASON_NONE;
}

uint32_t kiai_play_number(const kiai_engine* engine, kiai_play_id play) {
    return engine ? engine->get().play_of(play).number() : 0;
}

double kiai_play_position(const kiai_engine* engine, kiai_play_id play) {
    return engine ? engine->get().play_of(play).position().count() : 0;
}

int kiai_dial(const kiai_engine* engine, const char* dial, float* value) {
    bool known = false;
    const int status = guarded(all_given(engine, dial, value), [&] {
        const std::optional<float> now = engine->get().dial(dial);
        known = now.has_value();
        if (now) *value = *now;
    });
    return status == KIAI_OK && !known ? KIAI_UNKNOWN : status;
}

int kiai_scope(const kiai_engine* engine, const char* scope) {
    return asked(all_given(engine, scope), static_cast<int>(KIAI_SCOPE_IS_OFF),
                 [&] { return static_cast<int>(engine->get().scope(scope)); });
}

int kiai_bus_level(const kiai_engine* engine, const char* bus, float* peak, float* true_peak, float* loudness) {
    return guarded(all_given(engine, bus), [&] {
        const kiai::BusLevel level = engine->get().bus_level(bus);
        if (peak) *peak = level.peak;
        if (true_peak) *true_peak = level.true_peak;
        if (loudness) *loudness = level.short_term;
    });
}

int kiai_sounding(const kiai_engine* engine) {
    return engine ? engine->get().sounding() : 0;
}

int64_t kiai_now(const kiai_engine* engine) {
    return engine ? engine->get().now() : 0;
}

int kiai_sample_rate(const kiai_engine* engine) {
    return engine ? engine->get().sample_rate() : 0;
}

int64_t kiai_latency(const kiai_engine* engine) {
    return engine ? engine->get().latency() : 0;
}

int kiai_render(kiai_engine* engine, float* out, int frames) {
    if (!all_given(engine, out) || frames < 0 || engine->heard) return KIAI_BAD_ARGUMENT;
    engine->get().render({out, 2 * static_cast<std::size_t>(frames)});
    return KIAI_OK;
}

int kiai_poll(kiai_engine* engine) {
    return guarded(engine, [&] { engine->get().poll(); });
}

int kiai_set_log(kiai_engine* engine, kiai_sink sink, void* user) {
    return guarded(engine, [&] {
        engine->kept.reset();
        if (!sink) return engine->get().set_log({});
        engine->get().set_log(
            [call = call_of(sink, user)](const kiai::Decision& decision) { call(describe(decision)); });
    });
}

int kiai_set_findings(kiai_engine* engine, kiai_sink sink, void* user) {
    return guarded(engine, [&] {
        if (!sink) return engine->get().set_findings({});
        engine->get().set_findings(
            [call = call_of(sink, user)](const kiai::Finding& finding) { call(to_string(finding)); });
    });
}

size_t kiai_next_decision(kiai_engine* engine, char* text, size_t size) {
    return asked(engine, size_t{0}, [&] {
        if (!engine->kept) {
            engine->kept = std::make_shared<kiai::runtime::KeptLines>();
            engine->get().set_log(
                [kept = engine->kept](const kiai::Decision& decision) { kept->add(describe(decision)); });
        }
        const std::optional<std::string> line = engine->kept->take();
        return line ? kiai::runtime::put(*line, text, size) : 0;
    });
}

} // extern "C"
