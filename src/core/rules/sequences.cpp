#include "core/rules/sequences.h"

#include "core/dsp/kernels.h"

#include <algorithm>

namespace kiai::rules {
namespace {
constexpr int most_steps = 1000; ///< of one branch at one frame
}

Sequences::Sequences(const std::vector<model::Sequence>& sequences, int rate, std::uint64_t seed, Agenda& agenda,
                     Player& player)
    : seed_(seed), agenda_(agenda), player_(player), runs_(most_runs), branches_(most_branches) {
    for (const model::Sequence& sequence : sequences) {
        scores_.emplace_back(sequence.steps, rate);
        waits_.push_back({model::hash(sequence.name), 0});
    }
}

void Sequences::go_on_from(Sequences& other, const mixer::Change& change) noexcept {
    runs_.swap(other.runs_);
    branches_.swap(other.branches_);
    for (std::size_t s = 0; s < other.waits_.size(); ++s) waits_[s].count = other.waits_[s].count;
    next_id_ = other.next_id_;
    next_serial_ = other.next_serial_;
    running_ = other.running_;
    for (Run& run : runs_) {
        if (run.id == 0) continue;
        run.event.binding = -1;
        run.cause.binding = mixer::Change::now(change.bindings, run.cause.binding - 1) + 1;
        run.cause.action = mixer::Change::now(change.actions, run.cause.action);
        if (change.same_sequence[static_cast<std::size_t>(run.sequence)]) continue;
        player_.finished({nullptr, run.id, 0, run.scope, run.event, run.cause}, run.sequence);
        drop(static_cast<int>(&run - runs_.data()));
    }
}

bool Sequences::run(int sequence, int scope, const Event& event, const decisions::Record& cause, Frames now) noexcept {
    const auto free = std::find_if(runs_.begin(), runs_.end(), [](const Run& run) { return run.id == 0; });
    if (free == runs_.end()) return false;
    *free = {next_id_++, sequence, scope, 0, event, cause};
    free->event.holder = 0; // what ran it does not hold what it plays
    ++running_;
    const int first = claim(static_cast<int>(free - runs_.begin()), -1, 0, 0);
    if (first < 0) {
        free->id = 0;
        --running_;
        return false;
    }
    walk(first, now);
    return true;
}

int Sequences::claim(int run, int parent, int place, double ahead) noexcept {
    const auto free = std::find_if(branches_.begin(), branches_.end(), [](const Branch& one) { return one.run < 0; });
    if (free == branches_.end()) return -1;
    *free = {};
    free->run = run;
    free->parent = parent;
    free->place = place;
    free->ahead = ahead;
    next_serial_ = (next_serial_ + 1) % (1 << 22);
    free->serial = next_serial_ * most_branches + static_cast<int>(free - branches_.begin());
    ++runs_[static_cast<std::size_t>(run)].branches;
    return static_cast<int>(free - branches_.begin());
}

double Sequences::time_of(const Op& wait, int sequence) noexcept {
    if (wait.more <= 0) return wait.frames;
    Waits& waits = waits_[static_cast<std::size_t>(sequence)];
    const model::Draw draw{seed_, waits.name, waits.count++, 0};
    return wait.frames + wait.more * draw(model::Purpose::interval);
}

/// Carries out steps until one must wait.
void Sequences::walk(int number, Frames now) noexcept {
    const std::uint32_t id = run_of(number).id;
    const Score& score = scores_[static_cast<std::size_t>(run_of(number).sequence)];
    for (int steps = 0;; ++steps) {
        if (steps == most_steps) // it repeats what takes no time: `render` has to continue too
            return agenda_.add(Agenda::Entry::Kind::branch, number, run_of(number).scope, now + dsp::cell);
        Branch& here = branch(number);
        const Op& op = score.at(here.place);
        switch (op.kind) {
        case Op::Kind::act: {
            ++here.place;
            const Run& run = run_of(number);
            const int begun = player_.step({op.action, id, here.serial, run.scope, run.event, run.cause});
            // The step may have ended this very run.
            if (branch(number).run < 0 || run_of(number).id != id) return;
            branch(number).open += begun;
            break;
        }
        case Op::Kind::wait: {
            ++here.place;
            const double exact =
                here.ahead + time_of(op, run_of(number).sequence); // what a wait loses by rounding the next one gains
            const auto frames = static_cast<Frames>(exact + 0.5);
            here.ahead = exact - static_cast<double>(frames);
            if (frames == 0) break; // it takes no time, so it counts among the steps at one frame
            agenda_.add(Agenda::Entry::Kind::branch, number, run_of(number).scope, now + frames);
            return;
        }
        case Op::Kind::wait_for_end:
            here.waits_for_end = here.open > 0;
            if (here.waits_for_end) return;
            ++here.place;
            break;
        case Op::Kind::repeat: {
            int& done = here.done[static_cast<std::size_t>(op.depth)];
            const bool over = op.count > 0 && done == op.count;
            done = over ? 0 : op.count > 0 ? done + 1 : 0;
            here.place = over ? op.to : here.place + 1;
            break;
        }
        case Op::Kind::again:
            here.place = op.to;
            break;
        case Op::Kind::fork:
            if (fork(number, score, now)) return;
            break;
        case Op::Kind::part:
        case Op::Kind::over:
            return finish(number, now);
        }
    }
}

/// Starts the branches; returns true if this branch must wait for them.
bool Sequences::fork(int number, const Score& score, Frames now) noexcept {
    const int begin = branch(number).place;
    const Op& op = score.at(begin);
    const std::uint32_t id = run_of(number).id;
    branch(number).place = op.to;
    branch(number).children = 1; // so that none of them continues here before all have started
    for (int p = 0; p < op.count; ++p) {
        const int child = claim(branch(number).run, number, score.at(begin + 1 + p).to, branch(number).ahead);
        if (child < 0) {
            const Run& run = run_of(number);
            player_.no_branch({nullptr, id, 0, run.scope, run.event, run.cause});
            break;
        }
        ++branch(number).children;
        walk(child, now);
        if (branch(number).run < 0 || run_of(number).id != id) return true;
    }
    return --branch(number).children > 0;
}

void Sequences::finish(int number, Frames now) noexcept {
    const int parent = branch(number).parent, run = branch(number).run;
    const double ahead = branch(number).ahead;
    branch(number).run = -1;
    Run& done = runs_[static_cast<std::size_t>(run)];
    if (--done.branches == 0) {
        player_.finished({nullptr, done.id, 0, done.scope, done.event, done.cause}, done.sequence);
        done.id = 0;
        --running_;
    }
    if (parent < 0 || --branch(parent).children > 0) return;
    branch(parent).ahead = ahead;
    walk(parent, now);
}

void Sequences::go_on(int number, Frames now) noexcept {
    if (branch(number).run >= 0) walk(number, now);
}

void Sequences::ended(const mixer::EndedPlay& play, Frames now) noexcept {
    if (play.branch < 0) return;
    const int number = play.branch % most_branches;
    Branch& waiting = branch(number);
    if (waiting.run < 0 || waiting.serial != play.branch || --waiting.open > 0 || !waiting.waits_for_end) return;
    waiting.waits_for_end = false;
    waiting.ahead = 0;
    ++waiting.place;
    walk(number, now);
}

void Sequences::drop(int run) noexcept {
    for (int b = 0; b < static_cast<int>(branches_.size()); ++b)
        if (branch(b).run == run) {
            branch(b).run = -1;
            agenda_.remove(Agenda::Entry::Kind::branch, b);
        }
    runs_[static_cast<std::size_t>(run)].id = 0;
    --running_;
}

} // namespace kiai::rules
