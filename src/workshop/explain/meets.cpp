// Decides whether a run meets an expectation.
#include "core/model/near.h"

#include <kiai/workshop/expect.h>
#include <kiai/workshop/fire.h>

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <ostream>
#include <set>

namespace kiai::inline v0 {
namespace {

using Kind = Expectation::Kind;
constexpr Frames cell = 64; ///< of levels

struct Sounding {
    const Decision* begun = nullptr;
    const Decision* over = nullptr;
    Frames counts_until = 0; ///< what limits count
    Frames heard_from = -1;  ///< -1: never above `audible`
    Frames heard_until = -1;
};

struct Came {
    std::uint64_t cause = 0;
    Frames frame = 0;
};

class Judge {
  public:
    Judge(const Rehearsal& run, const Expectation& expected) : run_(run), expected_(expected) {
        from_ = frames(expected.from);
        to_ = expected.to.count() > 0 ? frames(expected.to) : std::max(run.length, from_) + 1;
        met_.expected = to_string(expected);
        met_.line = expected.line;
        met_.from = from_;
        met_.to = std::min(to_, run.length);
        read_plays();
    }

    ExpectationResult judge() {
        const auto& names = run_.sounds;
        if (!expected_.sound.empty() && !names.empty() &&
            std::find(names.begin(), names.end(), expected_.sound) == names.end()) {
            const std::string near = model::nearest(expected_.sound, names);
            return fail(fmt::format("unknown sound \"{}\"{}", expected_.sound,
                                    near.empty() ? "" : fmt::format("; did you mean \"{}\"?", near)));
        }
        if (!expected_.of.empty() && !read_triggers()) return met_;
        switch (expected_.kind) {
        case Kind::heard:
            return expected_.of.empty() ? heard_once() : heard();
        case Kind::silent:
            return silent();
        case Kind::at_most:
            return at_most();
        case Kind::fresh:
            return fresh();
        case Kind::level:
            return level();
        case Kind::ended:
            return ended();
        case Kind::refused:
            return refused();
        }
        return std::move(met_);
    }

  private:
    Frames frames(Seconds time) const { return static_cast<Frames>(std::llround(time.count() * run_.sample_rate)); }
    std::string at(Frames frame) const {
        return fmt::format("{:.3f} s", static_cast<double>(frame) / run_.sample_rate);
    }
    double ms(Frames count) const { return 1000.0 * static_cast<double>(count) / run_.sample_rate; }
    bool within(Frames frame) const { return frame >= from_ && frame < to_; }
    bool is_it(const Decision& decision) const { return expected_.sound.empty() || decision.sound == expected_.sound; }
    static std::string name(const Sounding& play) {
        const Decision& begun = *play.begun;
        return fmt::format("{} #{}", begun.sound, begun.play);
    }

    ExpectationResult fail(std::string happened) {
        met_.holds = false;
        met_.happened = std::move(happened);
        return met_;
    }
    ExpectationResult fail(std::string happened, Frames from, Frames to) {
        const Frames around = run_.sample_rate / 5;
        met_.from = std::max<Frames>(0, from - around);
        met_.to = std::min(run_.length, to + around);
        return fail(std::move(happened));
    }
    ExpectationResult hold(std::string happened) {
        met_.holds = true;
        met_.happened = std::move(happened);
        return std::move(met_);
    }

    void read_plays() {
        std::map<std::uint32_t, std::size_t> of_play;
        for (const Decision& decision : run_.decisions) {
            if (decision.outcome == Outcome::played) {
                of_play[decision.play] = plays_.size();
                plays_.push_back({&decision, nullptr, run_.length, -1, -1});
            }
            const auto play = of_play.find(decision.play);
            if (play == of_play.end()) continue;
            Sounding& one = plays_[play->second];
            if (decision.outcome == Outcome::ended) {
                one.over = &decision;
                one.counts_until = one.begun->frame + decision.counted;
            }
        }
        const float threshold = std::pow(10.0f, audible / 20);
        for (const PlayLevel& level : run_.levels) {
            const auto play = of_play.find(level.play);
            if (play == of_play.end() || level.peak < threshold) continue;
            Sounding& one = plays_[play->second];
            const LayerTake* const layer = same_layer(*one.begun, static_cast<int>(level.layer) + 1);
            const Frames from = std::max(level.frame, one.begun->frame + (layer ? layer->delay : 0));
            one.heard_from = one.heard_from < 0 ? from : std::min(one.heard_from, from);
            one.heard_until = std::max(one.heard_until, level.frame + cell);
        }
        if (!run_.levels.empty()) return;
        for (Sounding& one : plays_) // a log contains only some of these
            if (!one.over || one.over->level >= audible) {
                one.heard_from = one.begun->frame;
                one.heard_until = one.over ? one.over->frame : run_.length;
            }
    }

    /// Returns false if there is nothing to judge by.
    bool read_triggers() {
        const auto trigger = read_trigger(expected_.of);
        if (!trigger) {
            fail(fmt::format("unknown trigger \"{}\"", expected_.of));
            return false;
        }
        std::set<std::uint64_t> seen;
        for (const Decision& decision : run_.decisions) {
            const bool is_end = decision.outcome == Outcome::ended || decision.outcome == Outcome::over;
            if (decision.cause == 0 || is_end || !within(decision.frame)) continue;
            const bool there =
                trigger->point && decision.trigger == trigger->kind &&
                std::hypot(decision.point.x - trigger->point->x, decision.point.y - trigger->point->y) < 0.5;
            if ((there || matches(*trigger, decision)) && seen.insert(decision.cause).second)
                triggers_.push_back({decision.cause, decision.frame});
        }
        if (triggers_.empty()) fail(fmt::format("{} did not happen", expected_.of));
        return !triggers_.empty();
    }

    /// Explains the absence of a play, by the decisions of a cause.
    std::string detail(const Came& came) const {
        for (const Decision& decision : run_.decisions)
            if (decision.cause == came.cause && decision.outcome != Outcome::ended &&
                (decision.outcome != Outcome::played || decision.sound != expected_.sound))
                return describe(decision);
        return expected_.sound + " was not heard";
    }

    ExpectationResult heard() {
        const Frames span = frames(expected_.within);
        Frames latest = 0;
        for (const Came& came : triggers_) {
            Frames first = -1;
            for (const Sounding& play : plays_)
                if (is_it(*play.begun) && play.begun->frame >= came.frame && play.heard_from >= 0 &&
                    (first < 0 || play.heard_from < first))
                    first = play.heard_from;
            if (first < 0 || first - came.frame > span) {
                const bool own = std::any_of(plays_.begin(), plays_.end(), [&](const Sounding& play) {
                    return is_it(*play.begun) && play.begun->cause == came.cause;
                });
                return fail(fmt::format("{} at {}: {}", expected_.of, at(came.frame),
                                        first >= 0 && own ? fmt::format("heard {:.1f} ms later", ms(first - came.frame))
                                                          : detail(came)),
                            came.frame, came.frame + std::max(span, run_.sample_rate / Frames{5}));
            }
            latest = std::max(latest, first - came.frame);
        }
        return hold(
            fmt::format("{} of {}, the latest after {:.1f} ms", triggers_.size(), triggers_.size(), ms(latest)));
    }

    ExpectationResult heard_once() {
        for (const Sounding& play : plays_)
            if (is_it(*play.begun) && play.heard_from >= 0 && within(play.heard_from))
                return hold(fmt::format("first at {}", at(play.heard_from)));
        return fail(fmt::format("{} was not heard", expected_.sound));
    }

    ExpectationResult silent() {
        for (const Sounding& play : plays_)
            if (is_it(*play.begun) && play.heard_from >= 0 && play.heard_from < to_ && play.heard_until > from_)
                return fail(
                    fmt::format("{} is heard from {} to {}", name(play), at(play.heard_from), at(play.heard_until)),
                    play.heard_from, play.heard_until);
        return hold("nothing is heard");
    }

    ExpectationResult at_most() {
        std::vector<std::pair<Frames, int>> turns; // ends first
        for (const Sounding& play : plays_) {
            if (!is_it(*play.begun) || play.begun->frame >= to_ || play.counts_until <= from_ ||
                play.counts_until == play.begun->frame)
                continue;
            turns.emplace_back(std::max(from_, play.begun->frame), 1);
            turns.emplace_back(play.counts_until, -1);
        }
        if (turns.empty()) return fail("it did not play");
        std::sort(turns.begin(), turns.end());
        int now = 0, most = 0;
        Frames when = 0;
        for (const auto& [frame, step] : turns) {
            now += step;
            if (now > most) most = now, when = frame;
        }
        const std::string words = fmt::format("{} at {}", most, at(when));
        return most > expected_.plays ? fail(words, when, when) : hold("at most " + words);
    }

    static const LayerTake* same_layer(const Decision& decision, int layer) {
        for (const LayerTake& one : decision.layers)
            if (one.layer == layer) return &one;
        return nullptr;
    }

    ExpectationResult fresh() {
        const Decision* last = nullptr;
        int count = 0;
        for (const Sounding& play : plays_) {
            const Decision& now = *play.begun;
            if (!is_it(now) || !within(now.frame)) continue;
            ++count;
            for (const LayerTake& layer : now.layers)
                if (const LayerTake* before = last ? same_layer(*last, layer.layer) : nullptr;
                    before && layer.of > 1 && layer.clip == before->clip)
                    return fail(fmt::format("#{} and #{} at {} both played {}", last->play, now.play, at(now.frame),
                                            layer.clip),
                                last->frame, now.frame);
            if (last && !now.layers.empty() &&
                std::all_of(now.layers.begin(), now.layers.end(), [](const LayerTake& layer) { return layer.of == 1; }))
                return fail(fmt::format("its only take {} played at {} and at {}", now.layers.front().clip,
                                        at(last->frame), at(now.frame)),
                            last->frame, now.frame);
            last = &now;
        }
        return count < 2 ? fail(fmt::format("it played {}", count == 0 ? "not at all" : "once"))
                         : hold(fmt::format("{} plays", count));
    }

    ExpectationResult level() {
        Decibels least = 200, most = -200;
        for (const Sounding& play : plays_) {
            if (!is_it(*play.begun) || !within(play.begun->frame) || !play.over) continue;
            const Decibels peak = play.over->level;
            least = std::min(least, peak), most = std::max(most, peak);
            if (peak < expected_.low || peak > expected_.high)
                return fail(fmt::format("{} at {} peaks at {:.1f} dBFS", name(play), at(play.begun->frame), peak),
                            play.begun->frame, play.over->frame);
        }
        return least > most ? fail("it did not play") : hold(fmt::format("{:.1f} to {:.1f} dBFS", least, most));
    }

    ExpectationResult ended() {
        const Frames span = frames(expected_.within);
        int sounded = 0;
        for (const Came& came : triggers_)
            for (const Sounding& play : plays_) {
                const Frames over = play.over ? play.over->frame : run_.length + 1;
                if (!is_it(*play.begun) || play.begun->frame >= came.frame || over <= came.frame) continue;
                ++sounded;
                if (over > came.frame + span)
                    return fail(play.over ? fmt::format("{} plays for {:.0f} ms after {} at {}", name(play),
                                                        ms(over - came.frame), expected_.of, at(came.frame))
                                          : fmt::format("{} continues after {} at {}", name(play), expected_.of,
                                                        at(came.frame)),
                                came.frame, std::min(over, came.frame + 4 * span));
            }
        return sounded == 0
                   ? fail(fmt::format("it was not playing when {} happened", expected_.of))
                   : hold(fmt::format("{} ended in time", sounded == 1 ? "1 play" : fmt::format("{} plays", sounded)));
    }

    bool refuses(const Decision& decision) const {
        switch (decision.outcome) {
        case Outcome::refused_gap:
            return expected_.by == "gap";
        case Outcome::refused_limit:
            return decision.limit &&
                   (expected_.by == to_string(*decision.limit) || expected_.by == to_string(decision.limit->full));
        case Outcome::not_met:
            return expected_.by == decision.rule;
        default:
            return false;
        }
    }

    ExpectationResult refused() {
        for (const Came& came : triggers_) {
            const Decision* other = nullptr;
            bool found = false;
            for (const Decision& decision : run_.decisions) {
                if (decision.cause != came.cause || decision.outcome == Outcome::ended || !is_it(decision)) continue;
                found = found || refuses(decision) || expected_.by == to_string(decision.outcome);
                if (!other) other = &decision;
            }
            if (!found)
                return fail(fmt::format("at {}: {}", at(came.frame), other ? describe(*other) : "nothing happened"),
                            came.frame, came.frame);
        }
        return hold(fmt::format("{} of {}", triggers_.size(), triggers_.size()));
    }

    const Rehearsal& run_;
    const Expectation& expected_;
    Frames from_ = 0, to_ = 0;
    ExpectationResult met_;
    std::vector<Sounding> plays_;
    std::vector<Came> triggers_;
};

} // namespace

ExpectationResult meets(const Rehearsal& happened, const Expectation& expectation) {
    return Judge(happened, expectation).judge();
}

std::ostream& operator<<(std::ostream& out, const ExpectationResult& met) {
    return met.holds ? out << "met: " << met.expected << " (" << met.happened << ')'
                     : out << "expected: " << met.expected << "; happened: " << met.happened;
}

} // namespace kiai::inline v0
