#include "core/model/effects.h"
#include "core/model/near.h"
#include "workshop/explain/chain.h"
#include "workshop/rehearse/firing.h"

#include <kiai/speaker.h>

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace kiai::inline v0 {
namespace {

using workshop::Chain;

/// Everything that a question could mean, with what is known about it.
class Asked {
  public:
    Asked(const Project& project, std::string_view about) : data_(project.data()), about_(about) {
        if (const auto found = std::find_if(data_.sounds.begin(), data_.sounds.end(),
                                            [&](const auto& one) { return one.name == about_ && !one.gone; });
            found != data_.sounds.end())
            sound_ = static_cast<int>(found - data_.sounds.begin());
        for (std::size_t b = 0; sound_ >= 0 && b < data_.bindings.size(); ++b)
            if (model::sounds_started(data_, data_.bindings[b]).contains(sound_))
                starters_.push_back(static_cast<int>(b + 1));
    }

    /// Adds the links that need no run: registered, file, decoded. Returns true if all hold.
    bool stands(Chain& chain) const {
        if (sound_ < 0) return explain_missing(chain);
        const model::Sound& sound = data_.sounds[static_cast<std::size_t>(sound_)];
        chain.hold(Link::registered, fmt::format("kiai.toml, line {}", sound.source.line));
        if (sound.pending) {
            chain.tear(Link::file, "pending, without takes yet", "add a file, and remove `pending`", sound.source);
            return false;
        }
        if (sound.unready) {
            chain.tear(Link::file, "its clips belong to a scope that was not loaded",
                       "load that scope too: LoadOptions::scopes", sound.source);
            return false;
        }
        float peak = 0;
        std::size_t takes = 0;
        for (const model::Layer& layer : sound.layers)
            for (const int take : layer.takes) {
                const auto& audio = data_.clips[static_cast<std::size_t>(take)].audio;
                ++takes;
                if (audio && !audio->envelope.empty())
                    peak = std::max(peak, *std::max_element(audio->envelope.begin(), audio->envelope.end()));
            }
        chain.hold(Link::file, fmt::format("{} take{}", takes, takes == 1 ? "" : "s"));
        const double level = peak > 0 ? 20 * std::log10(peak) : -200;
        if (level < audible) {
            chain.tear(Link::decoded, fmt::format("no take is above {:.0f} dBFS", level),
                       "export them again: the channel or the track may have been muted", sound.source);
            return false;
        }
        chain.hold(Link::decoded, fmt::format("the loudest take peaks at {:.1f} dBFS", level));
        return true;
    }

    int sound() const noexcept { return sound_; }
    const std::vector<int>& starters() const noexcept { return starters_; }

    /// Returns `press hopper (binding 1), …`.
    std::string bound() const {
        std::string text;
        for (std::size_t i = 0; i < starters_.size() && i < 3; ++i)
            text += fmt::format("{}{} (binding {})", i > 0 ? ", " : "",
                                model::trigger_text(data_.bindings[static_cast<std::size_t>(starters_[i] - 1)]),
                                starters_[i]);
        return starters_.size() > 3 ? text + fmt::format(", and {} more", starters_.size() - 3) : text;
    }

    void tear_bound(Chain& chain) const {
        for (const Finding& finding : data_.findings)
            if (finding.severity == Severity::error && finding.binding > 0)
                return chain.tear(Link::bound, "no valid binding plays it; " + finding.message, finding.fix,
                                  {finding.line, finding.column});
        chain.tear(Link::bound, "no binding plays it",
                   fmt::format("bind it, or accept the finding if code plays it: engine.play(\"{}\")", about_),
                   data_.sounds[static_cast<std::size_t>(sound_)].source);
    }

  private:
    /// Explains why there is no such sound.
    bool explain_missing(Chain& chain) const {
        for (const Finding& finding : data_.findings)
            if (finding.code == FindingCode::no_project || finding.code == FindingCode::toml_syntax) {
                chain.tear(Link::registered, finding);
                return false;
            }
        const auto left_out = std::find_if(data_.left_out.begin(), data_.left_out.end(),
                                           [&](const model::LeftOut& one) { return one.name == about_; });
        for (const Finding& finding : data_.findings) {
            if (finding.severity != Severity::error) continue;
            const bool own = finding.entry == about_;
            const bool take =
                left_out != data_.left_out.end() &&
                std::find(left_out->clips.begin(), left_out->clips.end(), finding.entry) != left_out->clips.end();
            if (!own && !take) continue;
            const Link link = link_of(finding.code);
            if (link > Link::registered) chain.hold(Link::registered);
            if (link > Link::file) chain.hold(Link::file);
            chain.tear(link, finding);
            return false;
        }
        std::vector<std::string> names;
        for (const model::Sound& sound : data_.sounds)
            if (!sound.gone) names.push_back(sound.name);
        const std::string near = model::nearest(about_, names);
        chain.tear(Link::registered, fmt::format("unknown sound or clip \"{}\"", about_),
                   near.empty() ? "run kiai add, or use a known name (kiai list sounds)"
                                : fmt::format("did you mean \"{}\"? Names are compared exactly", near));
        return false;
    }

    static Link link_of(FindingCode code) noexcept {
        switch (code) {
        case FindingCode::file_missing:
        case FindingCode::permission_denied:
        case FindingCode::file_outside:
        case FindingCode::not_given:
            return Link::file;
        case FindingCode::file_unreadable:
        case FindingCode::file_empty:
        case FindingCode::file_not_finite:
        case FindingCode::file_channels:
        case FindingCode::file_too_long:
        case FindingCode::load_cancelled:
            return Link::decoded;
        default:
            return Link::registered;
        }
    }

    const model::Project& data_;
    std::string about_;
    int sound_ = -1;
    std::vector<int> starters_;
};

/// Returns what happened in place of the triggers of a sound.
std::string instead(const model::Project& data, const Asked& asked, const workshop::Evidence& evidence) {
    const model::Binding& binding = data.bindings[static_cast<std::size_t>(asked.starters().front() - 1)];
    std::set<std::uint64_t> others;
    for (const Decision& d : evidence.decisions) {
        if (d.cause == 0 || d.trigger != binding.trigger) continue;
        others.insert(d.cause);
        for (const int starter : asked.starters()) {
            const model::Binding& one = data.bindings[static_cast<std::size_t>(starter - 1)];
            if (d.trigger != one.trigger) continue;
            if (!d.nearest.empty() && d.nearest == one.name)
                return fmt::format("{} \"{}\" came instead, {}", to_string(d.trigger), d.on, evidence.at(d.frame));
            for (const model::Zone& zone : data.zones)
                if (d.trigger == ReportKind::press && zone.name == one.name && d.on != zone.name &&
                    model::inside(zone.shape, {d.point.x, d.point.y}))
                    return fmt::format("zone \"{}\" was in front of \"{}\" at the press, {}", d.on.empty() ? "?" : d.on,
                                       zone.name, evidence.at(d.frame));
        }
    }
    return others.empty() ? fmt::format("no {} happened", to_string(binding.trigger))
                          : fmt::format("{} {} happened, none of them that", others.size(),
                                        std::string(to_string(binding.trigger)) + (others.size() == 1 ? "" : "s"));
}

Diagnosis by_decisions(const Project& project, std::string_view name, const std::vector<Decision>& decisions,
                       int rate) {
    const model::Project& data = project.data();
    const Asked asked(project, name);
    Chain chain(project, std::string(name));
    if (!asked.stands(chain)) return chain.take();
    workshop::Evidence evidence{data, decisions, rate, {}, {std::string(name)}};
    const auto waited_for = [&](const Decision& d) {
        if (d.binding > 0)
            return std::find(asked.starters().begin(), asked.starters().end(), d.binding) != asked.starters().end() &&
                   d.sound.empty();
        return std::any_of(asked.starters().begin(), asked.starters().end(), [&](int starter) {
            const model::Binding& one = data.bindings[static_cast<std::size_t>(starter - 1)];
            return d.sound.empty() && d.outcome != Outcome::no_binding &&
                   matches({one.trigger, one.name + (one.other.empty() ? "" : "+" + one.other), {}}, d);
        });
    };
    evidence.about = waited_for;
    const workshop::Came came = workshop::furthest(evidence);
    if (asked.starters().empty() && !came.happened) {
        asked.tear_bound(chain);
        return chain.take();
    }
    chain.hold(Link::bound, asked.starters().empty() ? "the app plays it" : asked.bound());
    if (came.happened)
        chain.follow(came);
    else
        chain.tear(Link::triggered, fmt::format("{} did not happen: {}", asked.bound(), instead(data, asked, evidence)),
                   "report exactly this name from the app",
                   data.bindings[static_cast<std::size_t>(asked.starters().front() - 1)].source);
    return chain.take();
}

/// Returns how far the links go. Of several bindings, the one that comes furthest is explained.
std::size_t reach(const Diagnosis& why) {
    return why.heard() ? 100 : why.chain.size();
}

Diagnosis of_sound(const Project& project, std::string_view name) {
    const model::Project& data = project.data();
    const Asked asked(project, name);
    Chain chain(project, std::string(name));
    if (!asked.stands(chain)) return chain.take();
    if (asked.starters().empty()) {
        asked.tear_bound(chain);
        return chain.take();
    }
    chain.hold(Link::bound, asked.bound());
    Diagnosis all = chain.take(), best;
    for (const int starter : asked.starters()) {
        const model::Binding& binding = data.bindings[static_cast<std::size_t>(starter - 1)];
        const FireSettings settings;
        const workshop::Staged staged = workshop::stage(data, binding, settings);
        const Rehearsal happened =
            workshop::run(project, staged, settings, [&](const Decision& d) { return d.binding == starter; });
        Diagnosis one = workshop::why_of_binding(project, starter, staged, happened, std::string(name));
        if (best.chain.empty() || reach(one) > reach(best)) best = std::move(one);
        if (best.heard()) break;
    }
    all.chain.insert(all.chain.end(), best.chain.begin(), best.chain.end());
    all.fix = best.fix;
    all.file = best.file;
    all.line = best.line;
    return all;
}

/// Returns the last such trigger, or at a point the nearest.
std::set<std::uint64_t> causes_of_trigger(const Trigger& trigger, const std::vector<Decision>& decisions) {
    std::set<std::uint64_t> causes;
    double least = 1e30;
    for (const Decision& d : decisions) {
        if (d.cause == 0 || d.trigger != trigger.kind || d.outcome == Outcome::ended) continue;
        if (!trigger.point) {
            if (matches(trigger, d)) causes.insert(d.cause);
            continue;
        }
        const double away = std::hypot(d.point.x - trigger.point->x, d.point.y - trigger.point->y);
        if (away < least) causes = {d.cause}, least = away;
    }
    return causes;
}

Diagnosis by_trigger(const Project& project, const Trigger& trigger, const std::vector<Decision>& decisions, int rate) {
    Chain chain(project, to_string(trigger));
    const auto causes = workshop::with_what_followed(decisions, causes_of_trigger(trigger, decisions));
    std::set<std::uint32_t> plays;
    for (const Decision& d : decisions)
        if (d.outcome == Outcome::played && causes.contains(d.cause)) plays.insert(d.play);
    workshop::Evidence evidence{project.data(), decisions, rate, {}, {}};
    evidence.about = [&](const Decision& d) {
        return d.outcome == Outcome::ended ? plays.contains(d.play) : d.cause > 0 && causes.contains(d.cause);
    };
    const workshop::Came came = workshop::furthest(evidence);
    if (came.happened) {
        if (came.link < Link::triggered)
            chain.tear(came.link, came.detail, came.fix, came.source);
        else
            chain.follow(came);
        return chain.take();
    }
    if (!causes.empty())
        chain.tear(Link::bound, "its bindings play nothing", "add an action that plays: play, hold, toggle");
    else
        chain.tear(Link::triggered, "it did not happen", "report exactly this name from the app");
    return chain.take();
}

Diagnosis of_trigger(const Project& project, const Trigger& trigger) {
    const auto is_it = [&](const Decision& d) { return d.trigger == trigger.kind && d.cause > 0; };
    if (trigger.point) {
        const Rehearsal happened = workshop::run(project, workshop::stage(*trigger.point, trigger.kind), {}, is_it);
        return by_trigger(project, trigger, happened.decisions, happened.sample_rate);
    }
    const std::vector<int> bindings = bindings_to(project, trigger);
    if (bindings.empty()) {
        Chain chain(project, to_string(trigger));
        std::vector<std::string> names;
        for (const model::Binding& binding : project.data().bindings)
            if (binding.trigger == trigger.kind && !binding.name.empty())
                names.push_back(binding.name + (binding.other.empty() ? "" : "+" + binding.other));
        const std::string near = model::nearest(trigger.on, names);
        chain.tear(Link::bound, "nothing is bound to it",
                   near.empty() ? "bind it in kiai.toml (kiai list bindings prints all bindings)"
                                : fmt::format("did you mean \"{} {}\"?", to_string(trigger.kind), near));
        return chain.take();
    }
    Diagnosis best;
    for (const int binding : bindings) {
        Diagnosis one = fire(project, binding).why;
        if (best.chain.empty() || reach(one) > reach(best)) best = std::move(one);
    }
    return best;
}

} // namespace

Diagnosis why_silent(const Project& project, std::string_view about) {
    const auto trigger = read_trigger(about);
    return trigger ? of_trigger(project, *trigger) : of_sound(project, about);
}

Diagnosis why_silent(const Project& project, std::string_view about, const Rehearsal& happened) {
    const auto trigger = read_trigger(about);
    return trigger ? by_trigger(project, *trigger, happened.decisions, happened.sample_rate)
                   : by_decisions(project, about, happened.decisions, happened.sample_rate);
}

Diagnosis why_silent(const Engine& engine, std::string_view about, const Speaker* speaker) {
    Rehearsal happened;
    happened.sample_rate = engine.sample_rate();
    happened.decisions = engine.recent_decisions();
    Diagnosis why = why_silent(engine.project(), about, happened);
    if (why.heard() && speaker) {
        const bool plays = speaker->playing();
        why.chain.push_back({Link::device, plays, speaker->status()});
        if (!plays) why.fix = "choose another output (kiai hear --devices), or check the system's volume";
    }
    return why;
}

} // namespace kiai::inline v0
