#include "workshop/explain/evidence.h"

#include <kiai/workshop/fire.h>

#include <fmt/format.h>

#include <cmath>

namespace kiai::workshop {
namespace {

constexpr double at_once = 0.05; // seconds: of a play that was ended sooner nothing is made out

/// Returns how far an event came, by one decision.
Came judge(const Evidence& evidence, const Decision& d) {
    Came came;
    came.happened = true;
    if (const model::Binding* binding = evidence.binding(d.binding)) came.source = binding->source;
    const auto tell = [&](Link link, std::string detail, std::string fix) {
        came.link = link;
        came.detail = fmt::format("{}, {}", detail, evidence.at(d.frame));
        came.fix = std::move(fix);
        return came;
    };
    const std::string trigger = d.on.empty() ? to_string(d.trigger) : fmt::format("{} {}", to_string(d.trigger), d.on);
    switch (d.outcome) {
    case Outcome::no_zone:
        return tell(Link::triggered, "the press was in no zone", "run kiai zones --picture zones.png");
    case Outcome::no_binding:
        return tell(Link::bound, fmt::format("nothing is bound to {}", trigger),
                    d.nearest.empty() ? "bind it, or write through = true in the zone"
                                      : fmt::format("did you mean \"{}\"?", d.nearest));
    case Outcome::same_state:
        return tell(Link::triggered, fmt::format("{} was active already", trigger), "report its end: release, key_up");
    case Outcome::unended:
        came.mistaken = true;
        return tell(Link::triggered, fmt::format("{} was reported again, but never its end", trigger),
                    d.trigger == ReportKind::press ? "call release(…) after each press(…), or call click(…)"
                                                   : "call key_up(…) after each key_down(…), or call key_tap(…)");
    case Outcome::no_room:
        return tell(Link::limit, fmt::format("{} was ignored: the engine keeps no more of them at once", trigger),
                    "report the ends of earlier ones");
    case Outcome::bad_number:
        return tell(Link::triggered, fmt::format("{} had a NaN or infinite number", trigger),
                    "check where the app gets the number");
    case Outcome::scope_off:
        return tell(Link::scope, "its scope was off", "call engine.enter_scope(…), or write on = true");
    case Outcome::scope_paused:
        return tell(Link::scope, "its scope was paused", "call engine.resume_scope(…)");
    case Outcome::not_met:
        return tell(Link::condition,
                    std::isnan(d.value) ? fmt::format("`{}` kept it", d.rule)
                                        : fmt::format("`{}` was false: the value was {:g}", d.rule, d.value),
                    "change the condition, or the value");
    case Outcome::too_deep:
        return tell(Link::condition, "notices or sequences trigger each other in a loop", "remove one of them");
    case Outcome::pending:
        return tell(Link::file, fmt::format("{} is pending and has no takes yet", d.sound),
                    "add a file, and remove `pending`");
    case Outcome::not_ready:
        return tell(Link::file, fmt::format("the clips of {} belong to a scope that was not loaded", d.sound),
                    "load that scope too: LoadOptions::scopes");
    case Outcome::refused_gap:
        return tell(Link::limit,
                    fmt::format("{} started {:.0f} ms before; its gap is {:.0f} ms", d.sound,
                                d.limit ? 1000 * d.limit->measured : 0, d.limit ? 1000 * d.limit->allowed : 0),
                    "shorten the gap, or play it less often");
    case Outcome::refused_limit:
        return tell(Link::limit,
                    d.limit ? fmt::format("{} was full ({})", to_string(*d.limit), to_string(d.limit->full))
                            : std::string("a limit was full"),
                    "raise `plays`, change `full`, or raise the priority");
    case Outcome::refused_full:
        return tell(Link::limit, "the engine had no free voice or stream", "raise EngineSettings::voices or streams");
    case Outcome::no_end:
        return tell(Link::limit, "the contact has no pair number, so nothing would end the hold",
                    "give each contact a pair number, and report contact_end(…)");
    case Outcome::played:
        came.heard = true; // until its end says otherwise
        if (d.layers.empty()) {
            came.heard = false;
            return tell(Link::condition, "chance excluded every layer", "raise `chance`");
        }
        return tell(Link::level, fmt::format("{} #{} began", d.sound, d.play), "");
    case Outcome::ended:
        if (d.reason != EndReason::finished && static_cast<double>(d.length) < at_once * evidence.sample_rate)
            return tell(
                Link::lasted,
                fmt::format("{} #{} ended ({}) after {} frames", d.sound, d.play, to_string(d.reason), d.length),
                "run kiai rehearse --decisions to see what ended it");
        if (d.level < audible) {
            const Lowered lowered = lowered_most(evidence, d);
            came.source = lowered.source;
            return tell(Link::level,
                        fmt::format("{} #{} peaked at {:.1f} dBFS: {}", d.sound, d.play, d.level, lowered.detail),
                        lowered.fix);
        }
        came.heard = true;
        return tell(Link::level, fmt::format("{} #{} peaked at {:.1f} dBFS", d.sound, d.play, d.level), "");
    default:
        came.happened = false;
        return came;
    }
}

bool further(const Came& a, const Came& b) {
    if (a.happened != b.happened) return a.happened;
    if (a.mistaken != b.mistaken) return a.mistaken;
    if (a.heard != b.heard) return a.heard;
    return a.link >= b.link;
}

} // namespace

const model::Binding* Evidence::binding(int number) const noexcept {
    const bool there = number > 0 && number <= static_cast<int>(project.bindings.size());
    return there ? &project.bindings[static_cast<std::size_t>(number - 1)] : nullptr;
}

std::string Evidence::at(Frames frame) const {
    return fmt::format("at {:.3f} s", static_cast<double>(frame) / sample_rate);
}

Came furthest(const Evidence& evidence) {
    std::set<std::uint32_t> ended;
    for (const Decision& decision : evidence.decisions)
        if (decision.outcome == Outcome::ended) ended.insert(decision.play);
    Came best;
    for (const Decision& decision : evidence.decisions) {
        const bool wanted = evidence.sounds.contains(decision.sound) || evidence.about(decision);
        if (!wanted || (decision.outcome == Outcome::played && ended.contains(decision.play))) continue;
        if (Came came = judge(evidence, decision); came.happened && further(came, best)) best = std::move(came);
    }
    return best;
}

std::set<std::uint64_t> causes_of(const std::vector<Decision>& decisions, int binding) {
    std::set<std::uint64_t> causes;
    for (const Decision& decision : decisions)
        if (decision.binding == binding && decision.cause > 0) causes.insert(decision.cause);
    return with_what_followed(decisions, std::move(causes));
}

std::set<std::uint64_t> with_what_followed(const std::vector<Decision>& decisions, std::set<std::uint64_t> causes) {
    for (const Decision& decision : decisions) // consequences come later
        if (decision.from > 0 && causes.contains(decision.from)) causes.insert(decision.cause);
    return causes;
}

} // namespace kiai::workshop
