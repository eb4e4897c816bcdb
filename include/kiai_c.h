/* Kiai for C, and for every language that calls C.
 *
 * Texts are UTF-8 and end with a zero byte. They must live until the call returns. No ownership passes in either
 * direction, except for the engine, which kiai_close frees. A null engine or text is an error, not a crash. A text may
 * be null if the comment says so. Numbers out of range are clamped and logged. No function throws or ends the program.
 *
 * Threads: [any] may be called at any time and returns at once; [control] on one thread at a time, may wait; [rt] on
 * one thread at a time, neither waits nor allocates. No function may run during kiai_close. */
#ifndef KIAI_C_H
#define KIAI_C_H

#include <stddef.h>
#include <stdint.h>

#ifdef __cplusplus
extern "C" {
#endif

/* The version of this interface. No function is removed or changed while the number is the same. New functions increase
 * it by one. */
#define KIAI_C_VERSION 1

typedef struct kiai_engine kiai_engine;

/* A play; 0: none. It never becomes invalid: calls on a play that has ended have no effect. */
typedef uint64_t kiai_play_id;

enum kiai_status {
    KIAI_OK = 0,
    KIAI_BAD_ARGUMENT = 1, /* a null engine or text, or an invalid number */
    KIAI_NO_MEMORY = 2,
    KIAI_HAS_ERRORS = 3, /* the project has errors, see kiai_finding; entries without errors play */
    KIAI_UNKNOWN = 4     /* the project has no entry of that name */
};

enum kiai_target {
    KIAI_SOUND = 1,
    KIAI_BUS = 2,
    KIAI_SCOPE = 3,
    KIAI_SEQUENCE = 4,
    KIAI_EVERYTHING = 5 /* ignores the name */
};

enum kiai_play_state {
    KIAI_ENDED = 0, /* also: refused, or no play at all */
    KIAI_ASKED = 1, /* not started yet */
    KIAI_PLAYING = 2,
    KIAI_FADING = 3,
    KIAI_PAUSED = 4
};

enum kiai_end_reason {
    KIAI_REASON_NONE = 0, /* not ended, or no longer known */
    KIAI_REASON_FINISHED = 1,
    KIAI_REASON_STOPPED = 2,
    KIAI_REASON_STOLEN = 3,
    KIAI_REASON_SCOPE_LEFT = 4,
    KIAI_REASON_CHANGED = 5,
    KIAI_REASON_REFUSED = 6,
    KIAI_REASON_UNKNOWN_NAME = 7,
    KIAI_REASON_PENDING = 8,
    KIAI_REASON_NOT_READY = 9,
    KIAI_REASON_SCOPE_OFF = 10,
    KIAI_REASON_BAD_NUMBER = 11,
    KIAI_REASON_LOST = 12,
    KIAI_REASON_ENGINE_GONE = 13
};

enum kiai_scope_state { KIAI_SCOPE_IS_OFF = 0, KIAI_SCOPE_IS_ON = 1, KIAI_SCOPE_IS_PAUSED = 2 };

/* Return KIAI_C_VERSION of the linked library, and its version as a text. [any] */
int kiai_c_version(void);
const char* kiai_version(void);
/* Returns a sentence that describes a status. [any] */
const char* kiai_status_text(int status);

/* --- an engine --- [control] */

/* Loads a project, a folder or a pack, and plays it on the default device. Problems of the project are findings.
 * Without a device all calls still work. Returns NULL if `project` is null or memory is exhausted. */
kiai_engine* kiai_open(const char* project);
/* Loads a project without a device; kiai_render returns its sound. `sample_rate`: 8000 to 192000 frames per second.
 * `seed`: of all random choices. The same seed and calls give the same sound. */
kiai_engine* kiai_open_silent(const char* project, int sample_rate, uint64_t seed);
/* Destroys the engine. After kiai_open it waits up to ten seconds for plays to end. No effect for null. */
void kiai_close(kiai_engine* engine);
/* Loads the changed project, or another one. Unchanged plays continue. A project with errors is rejected. */
int kiai_reload(kiai_engine* engine, const char* project);

/* Returns the number of findings of the last load. */
int kiai_findings(const kiai_engine* engine);
/* Writes the finding with this number, from 0, as one line: as much as fits into `size` bytes with the zero byte.
 * Returns the length of the whole line without the zero byte; 0 if there is no such finding. */
size_t kiai_finding(const kiai_engine* engine, int number, char* text, size_t size);

/* --- what the app reports --- [any] */

int kiai_press(kiai_engine* engine, float x, float y, uint64_t pointer);
int kiai_release(kiai_engine* engine, uint64_t pointer);
int kiai_click(kiai_engine* engine, float x, float y, uint64_t pointer);
int kiai_pointer(kiai_engine* engine, float x, float y, uint64_t pointer);
int kiai_pointer_gone(kiai_engine* engine, uint64_t pointer);
/* `code`: a W3C UI Events code, such as Space, KeyT, ArrowLeft. */
int kiai_key_down(kiai_engine* engine, const char* code);
int kiai_key_up(kiai_engine* engine, const char* code);
int kiai_key_tap(kiai_engine* engine, const char* code);
/* `pair`: number of the contact until kiai_contact_end; 0: each call is a contact of its own. */
int kiai_contact(kiai_engine* engine, const char* kind, const char* other, float strength, float place, uint64_t pair);
int kiai_contact_end(kiai_engine* engine, uint64_t pair);
int kiai_body(kiai_engine* engine, uint64_t number, const char* kind, float x, float y, float radius);
int kiai_body_box(kiai_engine* engine, uint64_t number, const char* kind, float x, float y, float width, float height);
int kiai_body_gone(kiai_engine* engine, uint64_t number);
/* Up to four values. `names` and `values` may be null if `count` is 0. */
int kiai_notice(kiai_engine* engine, const char* name, const char* const* names, const float* values, int count);
/* `frame`: in frames of the motion. `playhead`: 0 to 15. */
int kiai_playhead(kiai_engine* engine, const char* motion, float frame, int playhead);
int kiai_playhead_gone(kiai_engine* engine, const char* motion, int playhead);
int kiai_set_dial(kiai_engine* engine, const char* dial, float value);
int kiai_enter_scope(kiai_engine* engine, const char* scope);
int kiai_leave_scope(kiai_engine* engine, const char* scope);
int kiai_pause_scope(kiai_engine* engine, const char* scope);
int kiai_resume_scope(kiai_engine* engine, const char* scope);
int kiai_move_zone(kiai_engine* engine, const char* zone, float x, float y, float scale);
int kiai_remove_zone(kiai_engine* engine, const char* zone);
/* The app no longer receives input: every press, key and contact ends. */
int kiai_input_lost(kiai_engine* engine);

/* --- calls that need no binding --- [any] */

/* `scope`: the scope that ends the play, or null. Gain, pitch, pan, values and position that are set before the next
 * block apply from the first frame. */
kiai_play_id kiai_play(kiai_engine* engine, const char* sound, const char* scope);
/* `target`: one of kiai_target. `fade`: in seconds; below 0: as each sound says. */
int kiai_stop(kiai_engine* engine, int target, const char* name, double fade);
int kiai_pause(kiai_engine* engine, int target, const char* name);
int kiai_resume(kiai_engine* engine, int target, const char* name);
int kiai_restart(kiai_engine* engine, int target, const char* name);
int kiai_toggle(kiai_engine* engine, const char* sound);
int kiai_run(kiai_engine* engine, const char* sequence);
/* Fades the sound `from` out and `to` in, over the same time at constant power. */
kiai_play_id kiai_crossfade(kiai_engine* engine, const char* from, const char* to, double seconds);
/* `gain`: dB, reached after `seconds`. */
int kiai_set_bus_gain(kiai_engine* engine, const char* bus, float gain, double seconds);
int kiai_mute_bus(kiai_engine* engine, const char* bus, int on);
/* Lets current plays end, and fades endless ones out in `fade` seconds. */
int kiai_wind_down(kiai_engine* engine, double fade);

/* --- a play --- [any] */

int kiai_play_stop(kiai_engine* engine, kiai_play_id play, double fade);
int kiai_play_pause(kiai_engine* engine, kiai_play_id play);
int kiai_play_resume(kiai_engine* engine, kiai_play_id play);
int kiai_play_seek(kiai_engine* engine, kiai_play_id play, double seconds);
/* `gain`: dB. `pitch`: semitones. `pan`: -1 to 1. `seconds`: at least 0.01. */
int kiai_play_set_gain(kiai_engine* engine, kiai_play_id play, float gain, double seconds);
int kiai_play_set_pitch(kiai_engine* engine, kiai_play_id play, float pitch, double seconds);
int kiai_play_set_pan(kiai_engine* engine, kiai_play_id play, float pan, double seconds);
int kiai_play_set(kiai_engine* engine, kiai_play_id play, const char* value, float to);
/* Return one of kiai_play_state; one of kiai_end_reason; the number in the log, 0 before the start; the position in
 * seconds of the clip. */
int kiai_play_state_of(const kiai_engine* engine, kiai_play_id play);
int kiai_play_reason(const kiai_engine* engine, kiai_play_id play);
uint32_t kiai_play_number(const kiai_engine* engine, kiai_play_id play);
double kiai_play_position(const kiai_engine* engine, kiai_play_id play);

/* --- the present state --- [any] */

/* Writes the value of a dial. Returns KIAI_UNKNOWN, and writes nothing, for an unknown name. */
int kiai_dial(const kiai_engine* engine, const char* dial, float* value);
/* Returns one of kiai_scope_state. */
int kiai_scope(const kiai_engine* engine, const char* scope);
/* Linear peak and true peak of the last 0.4 s, and loudness of the last 3 s in LUFS; each may be null. The first call
 * for a bus starts its measurement. */
int kiai_bus_level(const kiai_engine* engine, const char* bus, float* peak, float* true_peak, float* loudness);
/* Returns the number of plays that have not ended. */
int kiai_sounding(const kiai_engine* engine);
/* Return the frames since the start; the frames per second; the latency of the output in frames. */
int64_t kiai_now(const kiai_engine* engine);
int kiai_sample_rate(const kiai_engine* engine);
int64_t kiai_latency(const kiai_engine* engine);

/* --- the sound and the decisions --- */

/* Renders the next frames of an engine of kiai_open_silent: 2 * `frames` floats, interleaved left and right. [rt] */
int kiai_render(kiai_engine* engine, float* out, int frames);
/* Passes on decisions and findings, and frees memory. Call it once per frame of the app. [control] */
int kiai_poll(kiai_engine* engine);
/* kiai_poll calls the sink with one line of text for each decision, or for each finding about how the app uses the
 * engine. A null sink discards them. Before the first call, mistakes in the app are printed once on standard error. The
 * engine frees `line` when the sink returns. [control] */
typedef void (*kiai_sink)(void* user, const char* line);
int kiai_set_log(kiai_engine* engine, kiai_sink sink, void* user);
int kiai_set_findings(kiai_engine* engine, kiai_sink sink, void* user);
/* For languages without callbacks. After the first call, kiai_poll keeps the last 1024 decisions. Each call removes the
 * oldest and writes it as one line, cut to `size`. Returns its length as kiai_finding does; 0 if there is none.
 * Replaces the sink of kiai_set_log. [control] */
size_t kiai_next_decision(kiai_engine* engine, char* text, size_t size);

#ifdef __cplusplus
}
#endif

#endif
