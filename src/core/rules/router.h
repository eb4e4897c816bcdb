// From a report to its bindings' actions: what happened is found out by the parts of this room, and comes together
// here.
#pragma once

#include "core/mixer/core.h"
#include "core/rules/bindings.h"
#include "core/rules/bodies.h"
#include "core/rules/motions.h"
#include "core/rules/pointers.h"
#include "core/rules/repeats.h"
#include "core/rules/rules.h"
#include "core/rules/scopes.h"
#include "core/rules/sequences.h"
#include "core/rules/timers.h"
#include "core/rules/touches.h"
#include "core/rules/watches.h"

#include <vector>

namespace kiai::rules {

class Router final : private Hub, private Player {
  public:
    /// [control] `plan` and `names` outlive it.
    Router(const mixer::Plan& plan, model::NameTable& names, const mixer::CoreSettings& settings);
    Router(const Router&) = delete; // its parts know each other
    Router& operator=(const Router&) = delete;
    /// Where it writes what did not lead to a play. Before the first `serve`. [control]
    void write_to(mixer::Journal& journal) noexcept { journal_ = &journal; }

    /// As mixer::Due. [rt]
    void serve(std::span<const mixer::Command* const> commands, mixer::Plays& plays, Frames now) noexcept;
    Frames next(const mixer::Plays& plays, Frames now) const noexcept;
    int running() const noexcept { return sequences_.running(); }

    /// The project will be changed: what belongs to scopes that are gone from it ends, and the log says that it
    /// changes. What the record is. [rt]
    decisions::Record make_way(const mixer::Change& change, model::NameId fingerprint, mixer::Plays& plays,
                               Frames now) noexcept;
    /// What was going on under `other` goes on here. [rt]
    void go_on_from(Router& other, const mixer::Change& change, mixer::Plays& plays, Frames now) noexcept;

  private:
    /// What an action is carried out for.
    struct ActionContext {
        const Event& event;
        decisions::Record cause;
        int scope = -1;
        std::uint32_t run = 0;
        int branch = -1;
    };

    // what is served
    void begin() noexcept;
    void serve_time() noexcept;
    void ask_ahead(std::span<const mixer::Command* const> commands, std::size_t at) const noexcept;
    void serve_one(const mixer::Command& command) noexcept;
    void serve_report(const mixer::Command& command, const Event& event) noexcept;
    void serve_handle(const mixer::Command& command, decisions::Record cause) noexcept;
    void serve_direct(const mixer::Command& command, const Event& event) noexcept;
    void serve_bus(const mixer::Command& command, const Event& event) noexcept;
    void serve_zone(const mixer::Command& command, const Event& event) noexcept;
    void serve_counted(const mixer::Command& command) noexcept;
    void snapshot() noexcept;
    void snapshot_scopes() noexcept;
    void snapshot_levels() noexcept;
    void snapshot_counts() noexcept;
    void snapshot_held() noexcept;
    void record(mixer::Command command, ReportKind report) noexcept;
    void serve_playhead(const mixer::Command& command, const Event& event) noexcept;
    void key_down(const Event& event) noexcept;
    void key_up(model::NameId name, bool lost) noexcept;
    void turn(const mixer::Command& command, const Event& event) noexcept;
    void lose_input() noexcept;
    void wind_down(double seconds, std::uint64_t by) noexcept;
    void keep_winding_down() noexcept;
    bool once_more(std::vector<bool>& came, int number) noexcept;

    // scopes
    void serve_scope(const mixer::Command& command, const Event& event) noexcept;
    void enter(int scope, std::uint64_t from) noexcept;
    void leave(int scope, std::uint64_t from) noexcept;
    bool pause_scope(int scope, bool on) noexcept;

    // what happens
    std::uint64_t happen(const Event& event) noexcept override;
    void over(Holder holder, const Event& event, std::uint64_t by) noexcept override;
    void finished(const Stepped& last, int sequence) noexcept override;
    void no_branch(const Stepped& stepped) noexcept override;
    void say(Outcome outcome, const Event& event) noexcept override;
    bool scope_on(int scope) const noexcept override { return scopes_.on(scope); }
    bool affords(const decisions::Record& cause) noexcept;
    void overdraw(const decisions::Record& cause) noexcept;
    bool act_on(const Bound& bound, const Event& event, decisions::Record cause) noexcept;
    decisions::Record begin_record(const Event& event) noexcept;
    void write(decisions::Record record, Outcome outcome) noexcept;

    // what is done
    int step(const Stepped& stepped) noexcept override;
    int act(const model::Action& action, const ActionContext& context) noexcept;
    int play(const model::Action& action, const ActionContext& context, Holder holder) noexcept;
    void stop(const model::Action& action, ActionContext context) noexcept;
    int pause(const model::Action& action, bool on) noexcept;
    void set(const model::Action& action, std::uint64_t from) noexcept;
    void mute(const model::Action& action, bool on) noexcept;
    bool run(int sequence, const ActionContext& context) noexcept;
    void stop_sound(int sound, double seconds, decisions::Record cause) noexcept;
    int stop_sequences(int sequence, double seconds, std::uint64_t by) noexcept;
    void set_dial(int dial, double value, std::uint64_t from) noexcept;

    const mixer::Plan& plan_;
    const model::Project& project_;
    mixer::Journal* journal_ = nullptr;
    mixer::Plays* plays_ = nullptr; ///< while it serves
    Frames now_ = 0;
    bool begun_ = false;
    std::uint64_t happened_ = 0;
    int depth_ = 0;
    int allowance_ = 0;                     ///< how much more may be caused at this frame
    Frames overdrawn_ = -Agenda::never / 2; ///< when it was last exceeded

    Bindings bindings_;
    Rules rules_;
    Scopes scopes_;
    Zones zones_;
    Pointers pointers_;
    Touches touches_;
    Bodies bodies_;
    Motions motions_;
    Watches watches_;
    Agenda agenda_;
    Timers timers_;
    Sequences sequences_;
    std::vector<model::NameId> sound_names_, dial_names_, bus_names_, binding_names_, action_names_, sequence_names_;
    mixer::ByName sequence_by_name_;
    model::NameId start_;

    struct Down {
        model::NameId name = model::no_name;
        bool said = false; ///< that it was reported again while down
        Repeats repeats;
    };
    std::vector<Down> down_;
    std::vector<Frames> paused_at_; ///< by scope
    struct WindDown {
        bool on = false;
        double seconds = 0;           ///< of the fade
        std::uint64_t by = 0;         ///< its number in the log
        std::vector<bool> ended, ran; ///< sounds and sequences that have come once more
    } winding_;
};

} // namespace kiai::rules
