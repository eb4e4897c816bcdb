// The plays that sound: which may begin, which are stolen, and how they are mixed.
#pragma once

#include "core/dsp/kernels.h"
#include "core/mixer/drawing.h"
#include "core/mixer/envelope.h"
#include "core/mixer/handles.h"
#include "core/mixer/holder_lines.h"
#include "core/mixer/journal.h"
#include "core/mixer/voice.h"

#include <optional>
#include <vector>

namespace kiai::mixer {

/// What a sound is asked to play with.
struct Wanted {
    int sound = 0;
    PlayOptions options;
    Handles::Handle handle;
    decisions::Record cause;  ///< trigger, on, binding, cause: copied into every record about this play
    NamedNumbers values;      ///< what its own values begin with
    int scope = -1;           ///< that it belongs to
    std::uint64_t holder = 0; ///< what holds it; 0: nothing
    std::uint32_t run = 0;    ///< the run of a sequence that it is part of; 0: none
    int branch = -1;          ///< of that run: it may wait for its end
    Frames lasts = 0;         ///< it is told to end after so many frames; 0: it is not
};

/// Plays that have something in common.
struct Which {
    enum class Kind : std::uint8_t { sound, bus, scope, held, run, all } kind = Kind::all;
    std::uint64_t number = 0; ///< of the sound, bus, scope, holder or run
};

/// A play whose end somebody waits for.
struct EndedPlay {
    int sound = 0;
    std::uint32_t run = 0;
    int branch = -1;
    std::uint32_t play = 0;
    Frames end = 0;
};

struct Change;

class Plays {
  public:
    /// What has the sizes of a project.
    class Tables;

    /// [control] Takes all memory: `voices` that count, and as many again for those that fade. `decide_only`: nothing
    /// is mixed, so that all is silent and has no level; what is decided is the same.
    Plays(const Plan& plan, Journal& journal, Handles& handles, const dsp::Kernels& kernels, int rate,
          std::uint64_t seed, int voices, Streams& streams, bool decide_only);

    /// Goes on with another project: what is the same goes on, gains and the like go over to what they are now, loops
    /// that are others begin anew, and what is gone fades. `next` were made for it; they hold what was, afterwards.
    /// What is to be said of it has `cause`. [rt]
    void change(const Change& change, Tables& next, const decisions::Record& cause, Frames now) noexcept;

    /// Plays a sound whole, or refuses it, and writes which; its number, or 0. [rt]
    std::uint32_t request(const Wanted& wanted, Frames now) noexcept;

    /// Ends plays; how many. `seconds` below 0: each in its sound's own way. What is ending sooner is left alone.
    /// [rt]
    int stop(Which which, double seconds, std::uint64_t by, Frames now) noexcept;
    /// Ends what belongs to a scope, but what outlives it. [rt]
    int leave(int scope, double seconds, std::uint64_t by, Frames now) noexcept;
    /// Plays stand still, 10 ms later, until all that paused them has resumed them. [rt]
    enum Pauser : std::uint8_t { by_action = 1, by_scope = 2 };
    int pause(Which which, Pauser by, bool on, Frames now) noexcept;
    /// Of all plays of a sound or on a bus, from now on: dB, on top of kiai.toml's. [rt]
    void set_sound_gain(int sound, double decibels, double seconds, Frames now) noexcept;
    void set_bus_gain(int bus, double decibels, double seconds, Frames now) noexcept;
    void mute_sound(int sound, bool on, Frames now) noexcept;
    void mute_bus(int bus, bool on, Frames now) noexcept;
    /// Whether a play of it sounds or is paused; one that is ending does not count. [rt]
    bool sounds(int sound) const noexcept;
    /// Plays that ended and that somebody waits for, oldest first, and then none of them. [rt]
    std::span<const EndedPlay> ended() const noexcept { return ended_awaited_; }
    void forget_ended() noexcept { ended_awaited_.clear(); }
    /// Whether somebody waits for the end of a play. [rt]
    bool awaited() const noexcept { return awaited_ > 0 || !ended_awaited_.empty(); }

    /// The play that a handle was to be for will not begin. [rt]
    void forget(Handles::Handle handle) noexcept { handles_.end(handle, EndReason::none); }
    /// `seconds` below 0: in the sound's own way. [rt]
    void stop_play(Handles::Handle handle, double seconds, std::uint64_t by, Frames now) noexcept;
    /// Whether it was asked for, has not begun, and may. [rt]
    bool asked(Handles::Handle handle) const noexcept { return handles_.state(handle) == PlayState::asked; }
    void pause_play(Handles::Handle handle, bool on, Frames now) noexcept;
    void stop_loops(double seconds, std::uint64_t by, Frames now) noexcept;
    void set_gain(Handles::Handle handle, double decibels, Frames now) noexcept;
    /// As if a sound had been played so often, and its first layers heard so often. [rt]
    void count_from(int sound, std::uint64_t accepted, std::span<const std::uint64_t> heard) noexcept;
    std::uint64_t accepted(int sound) const noexcept {
        return tables_.sounds[static_cast<std::size_t>(sound)].accepted;
    }
    std::uint64_t heard(int sound, std::size_t layer) const noexcept {
        const auto& heard = tables_.sounds[static_cast<std::size_t>(sound)].heard;
        return layer < heard.size() ? heard[layer] : 0;
    }
    /// Of a bus, as it was set last: linear. [rt]
    float bus_gain(int bus) const noexcept { return tables_.bus_levels[static_cast<std::size_t>(bus)].gain; }
    bool bus_muted(int bus) const noexcept { return tables_.bus_levels[static_cast<std::size_t>(bus)].muted; }
    /// What the follows of a dial, or of a value of one play, follow from now on; of a play whose sound follows no such
    /// value its sound, else -1. [rt]
    void set_dial(int dial, double value) noexcept { tables_.dials[static_cast<std::size_t>(dial)] = value; }
    int set_own(Handles::Handle handle, model::NameId name, double value) noexcept;
    double dial(int dial) const noexcept { return tables_.dials[static_cast<std::size_t>(dial)]; }

    /// Adds the next `frames` (<= most_frames) to `left` and `right`, and writes which plays ended. [rt]
    void mix(Frames now, int frames, float* left, float* right) noexcept;

    static constexpr int most_frames = 1024;
    /// Of each there are as many again for those that fade.
    static constexpr std::size_t most_plays(int voices) noexcept { return static_cast<std::size_t>(voices) * 2; }
    /// Plays that have not come to their last frame. [rt]
    int sounding() const noexcept { return sounding_; }
    /// Those of them that would go on for ever: endless or paused, and not told to end. [rt]
    int looping() const noexcept { return looping_; }

  private:
    static constexpr int none = -1;
    /// Of a fade that begins while a play still rises: the product of both has to stay below a click as well.
    static constexpr double shortest_fall_of_rising = 0.008;
    /// In which what a change of the project does to a play is done.
    static constexpr double change_seconds = 0.04;

    struct Link {
        int older = none, newer = none;
    };
    using Line = PlayLine;
    /// What mixing needs stands first, so that it fits one line of the cache.
    struct alignas(64) Play {
        std::uint32_t id = 0;
        int voices = 0; ///< that have not come to their end
        float peak = 0;
        int sound = none;
        Frames end = 0;
        Frames skipped = 0; ///< how long it has stood still: its own time is the clock's less that
        Frames first = 0;   ///< in its own time: its first frame, later than `begun` where each layer has a delay
        Frames risen = 0;   ///< in its own time: each layer has come to its level
        Frames lasts = 0;
        bool counted = false;    ///< by limits: until it is told to end
        bool frozen = false;     ///< it stands still, since `frozen_at`
        std::uint8_t pauses = 0; ///< by whom it is paused
        EndReason reason = EndReason::finished;
        Envelope envelope;
        Frames frozen_at = 0;
        float gain = 1; ///< the app's, linear
        int scope = -1;
        std::uint64_t holder = 0;
        std::uint32_t run = 0;
        int branch = -1;
        bool endless = false;   ///< it would not end by itself
        bool replaced = false;  ///< another goes on for it, so nobody is told of its end
        bool chosen = false;    ///< to be stolen, while that is being decided
        bool layered = false;   ///< its level is that of the sum of several voices
        int counted_voices = 0; ///< that limits count while they count the play
        int counted_streams = 0;
        Link of_sound, of_all; ///< among those that sound
        Link of_holder;        ///< among those that the same thing holds
        Frames begun = 0;
        Frames counted_until = 0;
        std::uint64_t ended_by = 0;
        Handles::Handle handle;
        decisions::Record cause;
        PlayOptions options;
    };
    /// Gains of a voice that is moved: as they were at the last three cells.
    struct Moved {
        bool begun = false;
        Sides cells[3];
        // Where it was last; and after a change where it comes from, on its way to what it is now.
        Mixed last, from;
        double last_share = 1, from_share = 1;
        Frames changed_at = -1; ///< -1: it is not under way
        bool anew = false;      ///< what moves it is not what moved it before
        bool bends = false;     ///< since its pitch is another
    };
    /// Whether a stream keeps up with a voice.
    struct Flow {
        enum State : std::uint8_t { even, falling, dry, rising } state = even;
        Frames since = 0, length = 1;
    };
    /// What is needed of every voice in every block.
    struct alignas(64) ActiveVoice {
        int play = none; ///< none: it has come to its end
        std::uint32_t layer = 0;
        Frames begin = 0; ///< later than its play's where its layer has a delay
        Frames rise = 0;  ///< how long it takes to come to its level
        float cell_peak = 0;
        bool moves = false; ///< something moves it while it sounds
        Voice voice;
    };
    /// What is needed of it now and then; apart, so that many voices fit the cache.
    struct VoiceStory {
        const PlannedLayer* planned = nullptr;
        const Lap* lap = nullptr; ///< of the project that it began in, as its clip
        const model::Audio* audio = nullptr;
        std::atomic<int>* users = nullptr; ///< of that project
        bool held = false;                 ///< its layer is gone from the project: nothing moves it any more
        DrawnLayer drawn;
        Moved moved;
        Flow flow;
    };
    /// What is set for all plays of a sound or on a bus.
    struct Level {
        float gain = 1;
        bool muted = false;
        float now() const noexcept { return muted ? 0 : gain; }
    };
    struct SoundState {
        std::vector<Picker> picks;        ///< one per layer
        std::vector<std::uint64_t> heard; ///< likewise: in how many plays
        Level level;
        std::uint64_t accepted = 0;
        Frames last_start = -1;
        Line line;       ///< all that sound
        int counted = 0; ///< those of them that its limit counts
    };
    /// Which limit steals which play.
    struct Victim {
        int play = none;
        std::int16_t limit = 0;
        model::Full rule = model::Full::end_oldest;
    };

  public:
    class Tables {
      public:
        /// [control] `plays`: how many there may be.
        Tables(const Plan& plan, std::size_t plays);

      private:
        friend class Plays;
        std::vector<SoundState> sounds;
        std::vector<double> dials;
        std::vector<double> own; ///< most_own per play
        std::vector<int> on_bus; ///< how many of those that limits count are on each bus
        std::vector<Level> bus_levels;
        std::vector<DrawnLayer> drawn;
        std::vector<decisions::Record> layer_records;
        std::vector<Smoothed> smoothed; ///< most_movers per voice
    };

  private:
    void go_on_with(const Change& change, Tables& next) noexcept;
    void go_on(int slot, const Change& change, const Tables& was, Frames now) noexcept;
    void hold_still(int slot) noexcept;
    void begin_anew(int play, const decisions::Record& cause, Frames now) noexcept;
    void end_surplus(const decisions::Record& cause, Frames now) noexcept;
    void count_again() noexcept;
    void draw(const Wanted& wanted) noexcept;
    bool too_soon(const Wanted& wanted, Frames now) const noexcept;
    bool refused(const Wanted& wanted, bool too_soon, Frames now) noexcept;
    bool make_voices_free(const Wanted& wanted, int voices, int streams, Frames now) noexcept;
    int weaker_contact(const Wanted& wanted, std::int16_t limit, Frames now) const noexcept;
    bool contact_now(const Play& play, Frames now) const noexcept;
    void note_limit(decisions::Record& record, std::int16_t limit, int sound, Frames now) const noexcept;
    bool make_room(const Wanted& wanted, const model::Limit& limit, std::int16_t number, decisions::Record& record,
                   Frames now) noexcept;
    bool in(int play, std::int16_t limit, int sound) const noexcept;
    int pick_victim(const Wanted& wanted, model::Full rule, std::int16_t limit, Frames now,
                    bool streams = false) const noexcept;
    double expected(int play) const noexcept;
    double expected_of_drawn(int sound) const noexcept;

    int begin(const Wanted& wanted, Frames now) noexcept;
    void rise_over(int play, Frames frames) noexcept;
    void begin_layer(int play, std::uint32_t layer, Frames now) noexcept;
    bool belongs(const Play& play, Which which) const noexcept;
    template<class Use>
    void for_each(Which which, const Use& use) noexcept;
    float level_of(const Play& play) const noexcept;
    void relevel(Which which, double seconds, Frames now) noexcept;
    void set_paused(int play, std::uint8_t pauses, Frames now) noexcept;
    void thaw(Play& play, Frames now) noexcept;
    void tell(const Play& play, Frames now) noexcept;
    int set_own(int play, model::NameId name, double value) noexcept;
    bool is_awaited(const Play& play) const noexcept;
    static bool for_ever(const Play& play) noexcept { return (play.counted && play.endless) || play.pauses != 0; }
    bool end_early(int play, Frames now, Frames fade, EndReason reason, std::uint64_t by) noexcept;
    bool steal(int play, Frames now, std::uint64_t by) noexcept;
    bool unheard(const Play& play, Frames now) const noexcept { return now - play.skipped <= play.first; }
    void drop(int play, Frames now) noexcept;
    bool end_in_its_way(int play, Frames now, std::uint64_t by) noexcept;
    bool finish_turns(int play) noexcept;
    void count(int play) noexcept;
    void uncount(int play, Frames now) noexcept;
    void append(Line& line, Link Play::*link, int play) noexcept;
    void take_out(Line& line, Link Play::*link, int play) noexcept;
    int find(Handles::Handle handle) const noexcept;

    void mix_layers(int play, std::span<const int> voices, Frames now, int frames, float* left, float* right) noexcept;
    void mix_play(int index, std::span<const int> voices, Frames now, int frames, float* left, float* right) noexcept;
    void mix_voice(int slot, Frames now, int frames, float* left, float* right) noexcept;
    void mix_part(int slot, Frames now, int frames, const float* shape, float* left, float* right) noexcept;
    void mix_ready(int slot, Frames now, int frames, const float* shape, float* left, float* right) noexcept;
    int flow(int slot, Frames now, int frames) noexcept;
    void move_voice(int slot, Frames now) noexcept;
    Shapes moved_shapes(int slot, Frames now, int frames, const float* shape, float level) noexcept;
    void end_voice(int slot, Frames end) noexcept;
    void measure(ActiveVoice& active, Frames now, int made, std::span<const float> peaks, bool over) noexcept;
    void close_ended() noexcept;

    const Plan* plan_;
    Journal& journal_;
    Handles& handles_;
    const dsp::Kernels& kernels_;
    const dsp::FilterBank& filters_ = dsp::FilterBank::instance();
    int rate_;
    std::uint64_t seed_;
    int most_voices_;
    Streams& streams_;
    const bool decide_only_;

    Tables tables_;
    const PlannedLayer no_layer_{}; ///< what moves a voice whose layer is gone: nothing
    std::vector<Play> plays_;
    std::vector<int> free_plays_;
    std::vector<int> play_of_slot_;
    Line line_; ///< all that sound
    HolderLines held_;
    std::vector<EndedPlay> ended_awaited_;
    std::vector<Victim> victims_;
    std::vector<ActiveVoice> voices_;
    std::vector<VoiceStory> stories_; ///< one per voice
    std::vector<int> free_voices_;
    std::vector<int> order_; ///< voices in the order in which they started
    std::vector<int> ended_;
    Scratch scratch_;
    std::vector<float> shape_, rise_, flow_, moved_left_, moved_right_, sum_left_, sum_right_;
    std::uint32_t next_id_ = 1;
    int counted_voices_ = 0;
    int counted_streams_ = 0;
    int sounding_ = 0;
    int looping_ = 0; ///< for_ever
    int awaited_ = 0;
};

} // namespace kiai::mixer
