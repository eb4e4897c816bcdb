/* Kiai for C, and for every language that calls C.
 *
 * Texts are UTF-8, end with a zero byte, and have to live until the call returns. Nothing that is given or returned is
 * owned by the other side, but the engine: kiai_close frees it. A null engine or text is an error, not a crash; a text
 * may be null where that is said. Numbers out of range are held in it and logged. No function throws or ends the
 * program.
 *
 * Each function names its threads: [any], at any time, it returns at once; [control], one thread at a time, it may
 * wait; [rt], one thread at a time, it neither waits nor takes memory. No function may run while kiai_close does. */
#ifndef KIAI_C_H
#define KIAI_C_H

#include <stddef.h>
#include <stdint.h>

#ifdef __cplusplus
extern "C" {
#endif

/* The version of this face. A function is never taken away or changed while the number is the same; what is new makes
 * it one higher. */
#define KIAI_C_VERSION 1

typedef struct kiai_engine kiai_engine;

/* A play that was asked for; 0: none. It may be kept for ever: calls about a play that has ended do nothing. */
typedef uint64_t kiai_play_id;

enum kiai_status {
    KIAI_OK = 0,
    KIAI_BAD_ARGUMENT = 1, /* a null engine or text, a number that names nothing */
    KIAI_NO_MEMORY = 2,
    KIAI_HAS_ERRORS = 3, /* the project has errors: kiai_finding tells them; what has none plays */
    KIAI_UNKNOWN = 4     /* no entry of the project has that name */
};

enum kiai_target {
    KIAI_SOUND = 1,
    KIAI_BUS = 2,
    KIAI_SCOPE = 3,
    KIAI_SEQUENCE = 4,
    KIAI_EVERYTHING = 5 /* the name is not read */
};

enum kiai_play_state {
    KIAI_ENDED = 0, /* or refused, or there never was one */
    KIAI_ASKED = 1, /* not begun yet */
    KIAI_PLAYING = 2,
    KIAI_FADING = 3,
    KIAI_PAUSED = 4
};

enum kiai_end_reason {
    KIAI_REASON_NONE = 0, /* it has not ended, or that is not known any more */
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

/* KIAI_C_VERSION of the library that is linked, and its version as a text. [any] */
int kiai_c_version(void);
const char* kiai_version(void);
/* One sentence for a status. [any] */
const char* kiai_status_text(int status);

/* --- an engine --- [control] */

/* Loads a project, a folder or a pack, and plays it on the default device. What is wrong with the project is a finding;
 * without a device all calls work, and nothing is heard. NULL where `project` is null or memory is out. */
kiai_engine* kiai_open(const char* project);
/* The same without a device: kiai_render makes its sound. `sample_rate`: 8000 to 192000 frames per second. `seed`: for
 * all chance; the same seed and calls give the same sound. */
kiai_engine* kiai_open_silent(const char* project, int sample_rate, uint64_t seed);
/* Ends it. After kiai_open it waits until what sounds has ended, ten seconds at most. Null: nothing. */
void kiai_close(kiai_engine* engine);
/* Loads another state of the project, or another project; what has not changed goes on. A project with errors is not
 * taken. */
int kiai_reload(kiai_engine* engine, const char* project);

/* How many findings the last loading gave. */
int kiai_findings(const kiai_engine* engine);
/* The n-th of them from 0, as one line: as much of it as fits into `size` bytes with a zero byte at the end. Returns
 * how many bytes all of it needs, without the zero byte; 0 where there is no such finding. */
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
/* `pair`: which touch this is, until kiai_contact_end; 0: each call is a touch. */
int kiai_contact(kiai_engine* engine, const char* kind, const char* other, float strength, float place, uint64_t pair);
int kiai_contact_end(kiai_engine* engine, uint64_t pair);
int kiai_body(kiai_engine* engine, uint64_t number, const char* kind, float x, float y, float radius);
int kiai_body_box(kiai_engine* engine, uint64_t number, const char* kind, float x, float y, float width, float height);
int kiai_body_gone(kiai_engine* engine, uint64_t number);
/* Up to four values; `names` and `values` may be null where `count` is 0. */
int kiai_notice(kiai_engine* engine, const char* name, const char* const* names, const float* values, int count);
/* In frames of the motion. `playhead`: 0 to 15. */
int kiai_playhead(kiai_engine* engine, const char* motion, float frame, int playhead);
int kiai_playhead_gone(kiai_engine* engine, const char* motion, int playhead);
int kiai_set_dial(kiai_engine* engine, const char* dial, float value);
int kiai_enter_scope(kiai_engine* engine, const char* scope);
int kiai_leave_scope(kiai_engine* engine, const char* scope);
int kiai_pause_scope(kiai_engine* engine, const char* scope);
int kiai_resume_scope(kiai_engine* engine, const char* scope);
int kiai_move_zone(kiai_engine* engine, const char* zone, float x, float y, float scale);
int kiai_remove_zone(kiai_engine* engine, const char* zone);
/* The app gets no input any more: every press, key and touch ends. */
int kiai_input_lost(kiai_engine* engine);

/* --- what is done without a binding --- [any] */

/* `scope`: what it ends with, or null. Set its gain, pitch, pan, values and place in the same moment: they hold from
 * its first frame. */
kiai_play_id kiai_play(kiai_engine* engine, const char* sound, const char* scope);
/* `target`: one of kiai_target. `fade`: in seconds; below 0: as each sound says. */
int kiai_stop(kiai_engine* engine, int target, const char* name, double fade);
int kiai_pause(kiai_engine* engine, int target, const char* name);
int kiai_resume(kiai_engine* engine, int target, const char* name);
int kiai_restart(kiai_engine* engine, int target, const char* name);
int kiai_toggle(kiai_engine* engine, const char* sound);
int kiai_run(kiai_engine* engine, const char* sequence);
/* Ends `from`, a sound, and begins `to`, over the same seconds at constant power. */
kiai_play_id kiai_crossfade(kiai_engine* engine, const char* from, const char* to, double seconds);
/* dB, over so many seconds. */
int kiai_set_bus_gain(kiai_engine* engine, const char* bus, float gain, double seconds);
int kiai_mute_bus(kiai_engine* engine, const char* bus, int on);
/* What sounds comes to its end, and what would go on for ever fades, in so many seconds. */
int kiai_wind_down(kiai_engine* engine, double fade);

/* --- a play --- [any] */

int kiai_play_stop(kiai_engine* engine, kiai_play_id play, double fade);
int kiai_play_pause(kiai_engine* engine, kiai_play_id play);
int kiai_play_resume(kiai_engine* engine, kiai_play_id play);
int kiai_play_seek(kiai_engine* engine, kiai_play_id play, double seconds);
/* dB, semitones, -1 to 1; over so many seconds, 0.01 at least. */
int kiai_play_set_gain(kiai_engine* engine, kiai_play_id play, float gain, double seconds);
int kiai_play_set_pitch(kiai_engine* engine, kiai_play_id play, float pitch, double seconds);
int kiai_play_set_pan(kiai_engine* engine, kiai_play_id play, float pan, double seconds);
int kiai_play_set(kiai_engine* engine, kiai_play_id play, const char* value, float to);
/* One of kiai_play_state; one of kiai_end_reason; its number in the log, 0 until it has begun; seconds of its clip. */
int kiai_play_state_of(const kiai_engine* engine, kiai_play_id play);
int kiai_play_reason(const kiai_engine* engine, kiai_play_id play);
uint32_t kiai_play_number(const kiai_engine* engine, kiai_play_id play);
double kiai_play_position(const kiai_engine* engine, kiai_play_id play);

/* --- what it can be asked --- [any] */

/* KIAI_UNKNOWN where there is no such dial, and the value stays. */
int kiai_dial(const kiai_engine* engine, const char* dial, float* value);
/* One of kiai_scope_state. */
int kiai_scope(const kiai_engine* engine, const char* scope);
/* Linear peak and true peak of the last 0.4 s, and loudness of the last 3 s in LUFS; each may be null. The first call
 * for a bus starts its measurement. */
int kiai_bus_level(const kiai_engine* engine, const char* bus, float* peak, float* true_peak, float* loudness);
/* How many plays sound. */
int kiai_sounding(const kiai_engine* engine);
/* Frames since the engine started; frames per second; frames by which the output lags behind. */
int64_t kiai_now(const kiai_engine* engine);
int kiai_sample_rate(const kiai_engine* engine);
int64_t kiai_latency(const kiai_engine* engine);

/* --- the sound, and what was decided --- */

/* The next frames of an engine of kiai_open_silent: 2 * `frames` floats, left and right by turns. [rt] */
int kiai_render(kiai_engine* engine, float* out, int frames);
/* Once a frame of the app: hands decisions and findings on, and lets memory go. [control] */
int kiai_poll(kiai_engine* engine);
/* kiai_poll calls the sink for each decision, or for each finding about how the app uses the engine, with one line of
 * text. A null sink receives nothing. Before the first call, mistakes of the app go to standard error, each once. The
 * engine frees `line` when the sink returns. [control] */
typedef void (*kiai_sink)(void* user, const char* line);
int kiai_set_log(kiai_engine* engine, kiai_sink sink, void* user);
int kiai_set_findings(kiai_engine* engine, kiai_sink sink, void* user);
/* For languages without callbacks: from the first call on kiai_poll keeps the last 1024 decisions, and each call takes
 * the oldest of them, as one line, as kiai_finding does; 0: there is none. Where it does not fit it is cut. Replaces
 * the sink of kiai_set_log. [control] */
size_t kiai_next_decision(kiai_engine* engine, char* text, size_t size);

#ifdef __cplusplus
}
#endif

#endif
