// A play and its voices, while they sound.
#pragma once

#include "core/decisions/record.h"
#include "core/dsp/math.h"
#include "core/mixer/drawing.h"
#include "core/mixer/envelope.h"
#include "core/mixer/handles.h"
#include "core/mixer/voice.h"

#include <atomic>
#include <cstdint>

namespace kiai::mixer {

constexpr int no_play = -1;

struct PlayLink {
    int older = no_play, newer = no_play;
};
/// A change of a play's pitch or pan by the app. Its frames are the play's own.
struct Slide {
    double from = 0, to = 0;
    Frames at = 0, length = 0;

    void move(double goal, Frames now, Frames frames) noexcept {
        from = value(now);
        to = goal;
        at = now;
        length = frames;
    }
    /// Returns the value along a raised cosine.
    double value(Frames now) const noexcept {
        if (length <= 0 || now >= at + length) return to;
        return to + (from - to) * dsp::fall(static_cast<double>(now - at) / static_cast<double>(length));
    }
};
/// The members that mixing needs come first, so that they fit into one cache line.
struct alignas(64) ActivePlay {
    std::uint32_t id = 0;
    int voices = 0; ///< that have not come to their end
    float peak = 0;
    int sound = no_play;
    Frames end = 0;
    Frames skipped = 0; ///< how long it was paused in all: its own time is the clock's less that
    Frames first = 0;   ///< in its own time: its first frame, later than `begun` if each layer has a delay
    Frames risen = 0;   ///< in its own time: when each layer has reached its level
    Frames lasts = 0;
    bool counted = false;    ///< by limits: until it is stopped
    bool frozen = false;     ///< it is paused, since `frozen_at`
    std::uint8_t pauses = 0; ///< by whom it is paused
    EndReason reason = EndReason::finished;
    std::int16_t route = 0;     ///< the bus that it is mixed to; another than `bus` while it goes there
    bool rerouting : 1 = false; ///< it falls silent, since its bus has changed
    bool seeking : 1 = false;   ///< it falls silent, since it continues at `goal`
    bool ducks : 1 = false;     ///< it counts among what buses are ducked under
    Envelope envelope;
    Frames frozen_at = 0;
    float gain = 1;        ///< the app's, linear
    Slide pitch, pan;      ///< the same way: semitones, and -1 … 1
    double goal = 0;       ///< seconds of its clips
    Frames moved_at = 0;   ///< when the app moved one of these last
    std::uint8_t said = 0; ///< what the log reports about this movement
    bool own_bus = true;   ///< `bus` is its sound's
    std::int16_t bus = 0;  ///< that it counts on
    int scope = -1;
    std::uint64_t holder = 0;
    std::uint32_t run = 0;
    int branch = -1;
    bool endless = false;   ///< it would not end by itself
    bool replaced = false;  ///< another play continues for it, so its end is not reported
    bool chosen = false;    ///< to be stolen, while that is being decided
    bool layered = false;   ///< its level is that of the sum of several voices
    int counted_voices = 0; ///< that limits count while they count the play
    int counted_streams = 0;
    PlayLink of_sound, of_all; ///< among those that sound
    PlayLink of_holder;        ///< among those that the same thing holds
    Frames begun = 0;
    Frames counted_until = 0;
    std::uint64_t ended_by = 0;
    Handles::Handle handle;
    decisions::Record cause;
    PlayNumbers options;

    /// Returns true if the play never ends by itself.
    bool for_ever() const noexcept { return (counted && endless) || pauses != 0; }
    /// Returns true if nothing of the play was mixed yet.
    bool unheard(Frames now) const noexcept { return now - skipped <= first; }
};
/// The gains of a moving voice at the last three cells.
struct Moved {
    bool begun = false;
    Sides cells[3];
    // The last value; after a project change also the old value, from which it moves.
    Mixed last, from;
    double last_share = 1, from_share = 1;
    Frames changed_at = -1; ///< -1: it is not under way
    bool restarted = false; ///< what moves it is not what moved it before
    bool bends = false;     ///< since its pitch is another
};
/// The state of a stream compared with its voice.
struct Flow {
    enum State : std::uint8_t { even, falling, dry, rising } state = even;
    Frames since = 0, length = 1;
};
/// The data of a voice that every block needs.
struct alignas(64) ActiveVoice {
    int play = no_play; ///< no_play: it has ended
    std::uint32_t layer = 0;
    Frames begin = 0; ///< later than its play's where its layer has a delay
    Frames rise = 0;  ///< length of the fade-in
    float cell_peak = 0;
    bool moves = false;                      ///< something moves it while it sounds
    bool toned = false;                      ///< it has a filter
    FadeCurve curve = FadeCurve::equal_gain; ///< of its rise
    Voice voice;
};
/// The data of a voice that is needed rarely, kept separately so that many voices fit into the cache.
struct VoiceStory {
    const PlannedLayer* planned = nullptr;
    const Lap* lap = nullptr; ///< of the project that it began in, as its clip
    const model::Audio* audio = nullptr;
    std::atomic<int>* users = nullptr; ///< of that project
    bool held = false;                 ///< its layer was removed from the project, so nothing moves it any longer
    DrawnLayer drawn;
    Moved moved;
    Flow flow;
};

} // namespace kiai::mixer
