// The plays that sound: which may begin, which give way, and how they are mixed.
#pragma once

#include "dsp/kernels.h"
#include "engine/envelope.h"
#include "engine/handles.h"
#include "engine/journal.h"
#include "engine/picker.h"
#include "engine/plan.h"
#include "engine/voice.h"

#include <vector>

namespace kiai::engine {

/// What a sound is asked to play with.
struct Wanted {
    int sound = 0;
    PlayOptions options;
    Handles::Handle handle;
    Record cause; ///< trigger, on, binding, cause: copied into every record about this play
};

class Plays {
  public:
    /// [control] Takes all memory: `voices` that count, and as many again for those that fade.
    Plays(const Plan& plan, Journal& journal, Handles& handles, const dsp::Kernels& kernels, int rate,
          std::uint64_t seed, int voices);

    /// Plays a sound whole, or refuses it, and writes which. [rt]
    void request(const Wanted& wanted, Frames now) noexcept;
    /// Ends all plays of a sound; `cause` is what for. [rt]
    void stop_sound(int sound, Record cause, Frames now) noexcept;
    /// The play that a handle was to be for will not begin. [rt]
    void forget(Handles::Handle handle) noexcept { handles_.end(handle, EndReason::none); }
    void stop_play(Handles::Handle handle, double seconds, std::uint64_t by, Frames now) noexcept;
    void stop_loops(double seconds, std::uint64_t by, Frames now) noexcept;
    void set_gain(Handles::Handle handle, double decibels, Frames now) noexcept;

    /// Adds the next `frames` (<= most_frames) to `left` and `right`, and writes which plays ended. [rt]
    void mix(Frames now, int frames, float* left, float* right) noexcept;

    static constexpr int most_frames = 1024;
    /// Plays that have not come to their last frame. [rt]
    int sounding() const noexcept { return sounding_; }
    /// Those of them that loop and were not told to end. [rt]
    int looping() const noexcept { return looping_; }

  private:
    static constexpr int none = -1;

    struct Play {
        std::uint32_t id = 0;
        int sound = none;
        int voices = 0;         ///< that have not come to their end
        int counted_voices = 0; ///< that limits count while they count the play
        Frames begun = 0;
        Frames end = 0;
        Envelope envelope;
        EndReason reason = EndReason::finished;
        std::uint64_t ended_by = 0;
        float peak = 0;
        Handles::Handle handle;
        Record cause;
        int older = none, newer = none; ///< among the counted plays of its sound
        bool counted = false;
    };
    struct ActiveVoice {
        Voice voice;
        int play = none;  ///< none: it has come to its end
        Frames begin = 0; ///< later than its play's where its layer has a delay
        Frames rise = 0;  ///< how long it takes to come to its level
        std::uint32_t layer = 0;
        float cell_peak = 0;
    };
    struct SoundState {
        std::vector<Picker> picks; ///< one per layer
        std::uint64_t accepted = 0;
        Frames last_start = -1;
        int oldest = none, newest = none, counted = 0;
    };

    bool refused(const Wanted& wanted, Frames now) noexcept;
    void begin(const Wanted& wanted, int at, Frames now) noexcept;
    void begin_layer(const Wanted& wanted, int chosen, std::uint32_t layer, Frames now) noexcept;
    void end_early(int at, Frames now, Frames fade, EndReason reason, std::uint64_t by) noexcept;
    void count(int at) noexcept;
    void uncount(int at) noexcept;
    int find(Handles::Handle handle) const noexcept;
    void mix_play(Play& play, std::span<const int> voices, Frames now, int frames, float* left, float* right) noexcept;
    void mix_voice(ActiveVoice& active, Frames now, int frames, float* left, float* right) noexcept;
    void mix_part(ActiveVoice& active, Frames now, int frames, const float* shape, float* left, float* right) noexcept;
    void end_voice(ActiveVoice& active, Frames end) noexcept;
    void measure(ActiveVoice& active, Frames now, int made, std::span<const float> peaks, bool over) noexcept;
    void close_ended() noexcept;

    const Plan& plan_;
    Journal& journal_;
    Handles& handles_;
    const dsp::Kernels& kernels_;
    const dsp::FilterBank& filters_ = dsp::FilterBank::instance();
    int rate_;
    std::uint64_t seed_;
    int most_voices_;

    std::vector<SoundState> sounds_;
    std::vector<Play> plays_;
    std::vector<int> free_plays_;
    std::vector<int> play_of_slot_;
    std::vector<ActiveVoice> voices_;
    std::vector<int> free_voices_;
    std::vector<int> order_; ///< voices in the order in which they started
    std::vector<int> ended_;
    std::vector<Record> layer_records_;
    Scratch scratch_;
    std::vector<float> shape_, rise_;
    std::uint32_t next_id_ = 1;
    int counted_voices_ = 0;
    int sounding_ = 0;
    int looping_ = 0;
};

} // namespace kiai::engine
