#include "workshop/explain/chain.h"

#include <fmt/format.h>

#include <algorithm>

namespace kiai {
namespace workshop {
void Chain::hold(Link link, std::string detail) {
    why_.chain.push_back({link, true, std::move(detail)});
}

void Chain::tear(Link link, std::string detail, std::string fix, model::Source source) {
    why_.chain.push_back({link, false, std::move(detail)});
    why_.fix = std::move(fix);
    why_.line = source.line;
    if (source.line > 0) why_.file = project_.data().file;
}

void Chain::tear(Link link, const Finding& finding) {
    tear(link, finding.message, finding.fix, {finding.line, finding.column});
    why_.file = finding.file;
}

void Chain::follow(const Came& came) {
    for (int link = static_cast<int>(Link::triggered); link < static_cast<int>(came.link); ++link)
        hold(static_cast<Link>(link));
    if (came.heard)
        hold(came.link, came.detail);
    else
        tear(came.link, came.detail, came.fix, came.source);
}

Diagnosis why_of_binding(const Project& project, int number, const Staged& staged, const Rehearsal& happened,
                         const std::string& sound) {
    const model::Project& data = project.data();
    const model::Binding& binding = data.bindings[static_cast<std::size_t>(number - 1)];
    Chain chain(project, model::trigger_text(binding));
    if (binding.actions.empty()) {
        for (const Finding& finding : data.findings)
            if (finding.severity == Severity::error && finding.binding == number) {
                chain.tear(Link::registered, finding);
                return chain.take();
            }
        chain.tear(Link::registered, "disabled by an error in an entry that it names",
                   "run kiai check and fix that error first", binding.source);
        return chain.take();
    }
    if (!staged.impossible.empty()) {
        chain.tear(Link::triggered, staged.impossible, "correct the condition, or the range", binding.source);
        return chain.take();
    }
    const auto causes = causes_of(happened.decisions, number);
    std::set<std::uint32_t> plays;
    for (const Decision& d : happened.decisions)
        if (d.outcome == Outcome::played && causes.contains(d.cause)) plays.insert(d.play);
    Evidence evidence{data, happened.decisions, happened.sample_rate, {}, {}};
    evidence.about = [&](const Decision& d) {
        if (!sound.empty() && !d.sound.empty() && d.sound != sound) return false;
        return (d.cause > 0 && causes.contains(d.cause) && (d.binding == number || d.binding == 0 || d.from > 0)) ||
               (d.outcome == Outcome::ended && plays.contains(d.play));
    };
    const Came came = furthest(evidence);
    if (came.happened) {
        chain.follow(came);
        return chain.take();
    }
    const bool fired = std::any_of(happened.decisions.begin(), happened.decisions.end(),
                                   [&](const Decision& d) { return d.binding == number; });
    if (fired) {
        for (int link = static_cast<int>(Link::triggered); link < static_cast<int>(Link::level); ++link)
            chain.hold(static_cast<Link>(link));
        chain.tear(Link::level, "it starts after the listening time", "use --listen, or shorten its waits",
                   binding.source);
        return chain.take();
    }
    // No decision about it: what else answered that trigger?
    const Trigger trigger{binding.trigger, binding.name + (binding.other.empty() ? "" : "+" + binding.other), {}};
    evidence.about = [&](const Decision& d) { return matches(trigger, d) && d.binding == 0; };
    if (const Came other = furthest(evidence); other.happened) {
        chain.follow(other);
        return chain.take();
    }
    for (const Decision& d : happened.decisions)
        if (d.cause > 0 && d.trigger == binding.trigger && d.on != binding.name) {
            chain.tear(Link::triggered, fmt::format("\"{}\" receives it, in front of \"{}\"", d.on, binding.name),
                       "raise `order`, or write through = true in the front zone", binding.source);
            return chain.take();
        }
    chain.tear(Link::triggered, fmt::format("{} did not happen", model::trigger_text(binding)), "check its trigger",
               binding.source);
    return chain.take();
}

} // namespace workshop

inline namespace v0 {

const char* to_string(Link link) noexcept {
    static constexpr const char* words[] = {"registered", "file",  "decoded", "bound", "triggered", "scope",
                                            "condition",  "limit", "lasted",  "level", "device"};
    return words[static_cast<int>(link)];
}

std::string Diagnosis::message() const {
    if (heard())
        return subject + " is heard" + (chain.empty() || chain.back().detail.empty() ? "" : ": " + chain.back().detail);
    return fmt::format("{}{} is silent: {}: {}; {}",
                       file.empty() ? ""
                       : line > 0   ? fmt::format("{}:{}: ", file, line)
                                    : file + ": ",
                       subject, to_string(chain.back().link), chain.back().detail, fix);
}

} // namespace v0
} // namespace kiai
