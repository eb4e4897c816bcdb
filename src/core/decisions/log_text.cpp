// Prints the decision log for people.
#include "core/model/fill.h"
#include "core/model/one_line.h"

#include <kiai/log.h>

#include <algorithm>
#include <iterator>
#include <map>
#include <memory>
#include <ostream>
#include <string>

namespace kiai::inline v0 {
namespace {

/// Colours what was refused, lost or wrong, because a reader who looks for a missing sound wants to see that first.
int colour_of(Outcome outcome) {
    switch (outcome) {
    case Outcome::played:
    case Outcome::stopped:
    case Outcome::done:
    case Outcome::over:
        return 0;
    case Outcome::ducked:
    case Outcome::duck_over:
    case Outcome::ended:
    case Outcome::same_state:
        return 90;
    case Outcome::unknown_name:
    case Outcome::unknown_value:
    case Outcome::bad_number:
    case Outcome::no_end:
    case Outcome::too_deep:
    case Outcome::unended:
    case Outcome::calendar_full:
    case Outcome::names_full:
    case Outcome::ring_full:
    case Outcome::log_full:
    case Outcome::insert_off:
    case Outcome::mix_lost:
        return 31;
    default:
        return 33;
    }
}

/// Returns the same text for decisions that readers consider the same.
std::string kind_of(const Decision& decision) {
    return model::fill("{} {} {} {} {} {} {} {}", to_string(decision.outcome), to_string(decision.trigger), decision.on,
                       decision.binding, decision.action ? to_string(*decision.action) : std::string(), decision.sound,
                       decision.rule, decision.bus);
}

class Writer {
  public:
    Writer(std::ostream& out, const TextLogSettings& settings) : out_(out), settings_(settings) {}
    ~Writer() {
        for (auto& [kind, of_kind] : kinds_) tell_rest(of_kind, now_);
        out_.flush();
    }

    void write(const Decision& decision) {
        now_ = std::max(now_, decision.frame); // ends arrive a little late
        for (auto at = kinds_.begin(); at != kinds_.end();) {
            const bool over = now_ - at->second.since >= settings_.sample_rate;
            if (over) tell_rest(at->second, at->second.since + settings_.sample_rate);
            at = over ? kinds_.erase(at) : std::next(at);
        }
        const std::string words = model::one_line(describe(decision));
        if (settings_.every)
            return line(decision.frame, decision.outcome == Outcome::ended ? "  " + words : words, decision.outcome);
        const auto [at, first] = kinds_.try_emplace(kind_of(decision));
        OfKind& of_kind = at->second;
        if (first) of_kind = {now_, 0, 0, words, decision.outcome};
        if (of_kind.told == (decision.play > 0 ? most_plays : 1)) {
            ++of_kind.untold;
            return;
        }
        ++of_kind.told;
        line(decision.frame, decision.outcome == Outcome::ended ? "  " + words : words, decision.outcome);
    }

  private:
    static constexpr int most_plays = 10; ///< within a second
    struct OfKind {
        Frames since = 0;
        int told = 0, untold = 0;
        std::string words; ///< of the first
        Outcome outcome = Outcome::done;
    };

    void tell_rest(const OfKind& of_kind, Frames at) {
        if (of_kind.untold > 0)
            line(at, model::fill("… {} more like: {}", of_kind.untold, of_kind.words), of_kind.outcome);
    }
    void line(Frames at, const std::string& words, Outcome outcome) {
        const int colour = settings_.colour ? colour_of(outcome) : 0;
        const std::string seconds = model::fixed(static_cast<double>(at) / settings_.sample_rate, 3);
        out_ << std::string(seconds.size() < 7 ? 7 - seconds.size() : 0, ' ') << seconds << " s  ";
        if (colour)
            out_ << model::fill("\x1b[{}m{}\x1b[0m\n", colour, words);
        else
            out_ << words << '\n';
    }

    std::ostream& out_;
    TextLogSettings settings_;
    Frames now_ = 0;
    std::map<std::string, OfKind> kinds_; ///< of the last second
};

} // namespace

std::function<void(const Decision&)> text_log(std::ostream& out, const TextLogSettings& settings) {
    return [writer = std::make_shared<Writer>(out, settings)](const Decision& decision) { writer->write(decision); };
}

} // namespace kiai::inline v0
