// Running sequences: the step of each branch, and what it waits for.
#pragma once

#include "core/mixer/change.h"
#include "core/mixer/plays.h"
#include "core/model/chance.h"
#include "core/rules/agenda.h"
#include "core/rules/event.h"
#include "core/rules/score.h"

#include <array>
#include <vector>

namespace kiai::rules {

/// A step that is an action, with its sequence.
struct Stepped {
    const model::Action* action = nullptr;
    std::uint32_t run = 0;
    int branch = 0; ///< what its plays are to name, see EndedPlay
    int scope = -1;
    Event event; ///< what ran the sequence: its values are passed to the plays
    decisions::Record cause;
};

class Player { // carries out actions
  public:
    virtual ~Player() = default;
    /// Returns how many plays it started. [rt]
    virtual int step(const Stepped& stepped) noexcept = 0;
    /// The last branch of a run has ended. [rt]
    virtual void finished(const Stepped& last, int sequence) noexcept = 0;
    /// A part of `together` is skipped because no more branches can run. [rt]
    virtual void no_branch(const Stepped& stepped) noexcept = 0;
};

class Sequences {
  public:
    static constexpr int most_runs = 64, most_branches = 256;
    /// [control]
    Sequences(const std::vector<model::Sequence>& sequences, int rate, std::uint64_t seed, Agenda& agenda,
              Player& player);

    /// Continues runs of unchanged sequences and ends the others. [rt]
    void go_on_from(Sequences& other, const mixer::Change& change) noexcept;
    /// Returns true if a branch runs. [rt]
    bool runs(int branch) const noexcept { return branches_[static_cast<std::size_t>(branch)].run >= 0; }
    /// Starts a run; returns false if no more can run. [rt]
    bool run(int sequence, int scope, const Event& event, const decisions::Record& cause, Frames now) noexcept;
    /// Continues a branch whose time has come. [rt]
    void go_on(int branch, Frames now) noexcept;
    /// A play of a branch has ended. [rt]
    void ended(const mixer::EndedPlay& play, Frames now) noexcept;
    int running() const noexcept { return running_; }
    /// Returns true if the sequence repeats something until it is stopped. [rt]
    bool endless(int sequence) const noexcept { return scores_[static_cast<std::size_t>(sequence)].endless(); }
    /// Ends the runs of a sequence, of a scope, or all; calls `use` with the number of each. [rt]
    template<class Test, class Use>
    int stop_if(const Test& test, const Use& use) noexcept {
        int stopped = 0;
        for (std::size_t r = 0; r < runs_.size(); ++r) {
            if (runs_[r].id == 0 || !test(runs_[r].sequence, runs_[r].scope)) continue;
            use(runs_[r].id);
            drop(static_cast<int>(r));
            ++stopped;
        }
        return stopped;
    }

  private:
    struct Run {
        std::uint32_t id = 0; ///< 0: free
        int sequence = 0, scope = -1;
        int branches = 0;
        Event event;
        decisions::Record cause;
    };
    struct Branch {
        int run = -1;   ///< -1: free
        int serial = 0; ///< distinguishes this use of the slot from earlier ones
        int parent = -1;
        int place = 0;
        int open = 0;     ///< its plays that sound
        double ahead = 0; ///< its exact time is this many frames after the frame at which it last continued, ±0.5
        int children = 0; ///< that it waits for
        bool waits_for_end = false;
        std::array<int, Score::deepest> done{}; ///< turns of each repeat that it is in
    };
    Branch& branch(int number) noexcept { return branches_[static_cast<std::size_t>(number)]; }
    Run& run_of(int number) noexcept { return runs_[static_cast<std::size_t>(branch(number).run)]; }
    int claim(int run, int parent, int place, double ahead) noexcept;
    void walk(int number, Frames now) noexcept;
    double time_of(const Op& wait, int sequence) noexcept;
    bool fork(int number, const Score& score, Frames now) noexcept;
    void finish(int number, Frames now) noexcept;
    void drop(int run) noexcept;

    /// The identity of random waits, for their draws.
    struct Waits {
        std::uint64_t name = 0, count = 0;
    };

    std::vector<Score> scores_;
    std::vector<Waits> waits_; ///< the same way one per sequence
    std::uint64_t seed_;
    Agenda& agenda_;
    Player& player_;
    std::vector<Run> runs_;
    std::vector<Branch> branches_;
    std::uint32_t next_id_ = 1;
    int next_serial_ = 0;
    int running_ = 0;
};

} // namespace kiai::rules
