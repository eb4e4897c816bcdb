// Bindings and sequences that do not do what is meant.
#include "core/model/effects.h"
#include "workshop/check/findings.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace kiai::workshop {
namespace {

constexpr double check_rate = 48000; // times in frames are judged at this rate
constexpr double least_vary = 0.01;  // semitones, dB

class Doubts {
  public:
    Doubts(const model::Project& project, reader::Findings& findings) : project_(project), findings_(findings) {}

    void run() {
        for (std::size_t b = 0; b < project_.bindings.size(); ++b) binding(project_.bindings[b], b + 1);
        for (const model::Sequence& sequence : project_.sequences) {
            const std::string what = fmt::format("sequence \"{}\"", sequence.name);
            waits(sequence, sequence.steps, what, true);
            model::for_each_action(sequence.steps, [&](const model::Action& action) {
                if (const model::Sound* sound = played(action); sound && sequence.scope < 0)
                    unended(*sound, action, what, sequence.source);
            });
        }
        for (const model::Motion& motion : project_.motions) markers(motion);
    }

  private:
    /// Returns the sound that an action starts; null if it starts none of this project.
    const model::Sound* played(const model::Action& action) const {
        if (!model::starts(action.verb) || action.target != model::Target::sound) return nullptr;
        return &project_.sounds[static_cast<std::size_t>(action.index)];
    }

    void binding(const model::Binding& binding, std::size_t number) {
        const std::string what = model::binding_title(binding, number);
        for (std::size_t a = 0; a < binding.actions.size(); ++a) {
            const model::Action& action = binding.actions[a];
            const model::Sound* const sound = played(action);
            if (!sound) continue;
            for (std::size_t later = a + 1; later < binding.actions.size(); ++later)
                if (binding.actions[later].verb == model::Verb::stop &&
                    binding.actions[later].target == model::Target::sound &&
                    binding.actions[later].index == action.index)
                    findings_.add(FindingCode::play_and_stop, binding.source,
                                  fmt::format("{} plays and stops \"{}\" at the same time", what, sound->name),
                                  "write the stop before the play, or use `restart`", sound->name);
            if (binding.scope < 0 && binding.trigger != ReportKind::start)
                unended(*sound, action, what, binding.source);
            beside_sound(action, *sound, what, binding.source);
            no_variation(binding, action, *sound, what);
            if (binding.trigger == ReportKind::every)
                too_long(*sound, binding.time.value / (binding.time.in_frames ? check_rate : 1),
                         fmt::format("{} plays", what), binding.source);
        }
    }

    /// Reports an endless loop that no scope ends.
    void unended(const model::Sound& sound, const model::Action& action, const std::string& what,
                 model::Source source) {
        if (!sound.endless() || action.verb == model::Verb::hold || action.lasts || ended_by_any(sound)) return;
        findings_.add(FindingCode::loop_unended, source,
                      fmt::format("{} plays \"{}\", an endless loop that nothing stops", what, sound.name),
                      "use `hold` or `for`, bind a `stop`, or give the binding a scope", sound.name);
    }

    bool ended_by_any(const model::Sound& sound) const {
        const auto ends = [&](const model::Action& action) {
            const bool stops = action.verb == model::Verb::stop || action.verb == model::Verb::toggle ||
                               action.verb == model::Verb::pause;
            if (!stops) return false;
            switch (action.target) {
            case model::Target::sound:
                return project_.sounds[static_cast<std::size_t>(action.index)].name == sound.name;
            case model::Target::bus:
                for (int bus = sound.bus; bus >= 0; bus = project_.buses[static_cast<std::size_t>(bus)].into)
                    if (bus == action.index) return true;
                return false;
            default:
                return true; // a scope, a sequence, everything
            }
        };
        bool any = false;
        for (const model::Binding& binding : project_.bindings)
            any = any || std::any_of(binding.actions.begin(), binding.actions.end(), ends);
        for (const model::Sequence& sequence : project_.sequences)
            model::for_each_action(sequence.steps, [&](const model::Action& action) { any = any || ends(action); });
        return any;
    }

    void beside_sound(const model::Action& action, const model::Sound& implied, const std::string& what,
                      model::Source source) {
        if (!implied.implied || implied.layers.empty() || implied.layers.front().takes.empty()) return;
        const int clip = implied.layers.front().takes.front();
        for (const model::Sound& sound : project_.sounds)
            for (const model::Layer& layer : sound.layers)
                if (!sound.implied && !sound.variant &&
                    std::find(layer.takes.begin(), layer.takes.end(), clip) != layer.takes.end()) {
                    findings_.add(FindingCode::clip_beside_sound, source,
                                  fmt::format("{} plays clip \"{}\" directly, without the settings of sound \"{}\"",
                                              what, action.name, sound.name),
                                  fmt::format("use \"{}\" instead", sound.name), action.name);
                    return;
                }
    }

    static bool varies(const model::Vary& vary) {
        return std::abs(vary.pitch.from) + std::abs(vary.pitch.to) + std::abs(vary.gain.from) + std::abs(vary.gain.to) +
                   std::abs(vary.start.to) >
               least_vary;
    }

    /// Reports frequent triggers that play the same recording.
    void no_variation(const model::Binding& binding, const model::Action& action, const model::Sound& sound,
                      const std::string& what) {
        const bool often = binding.trigger == ReportKind::contact || binding.trigger == ReportKind::marker ||
                           binding.trigger == ReportKind::enter || binding.trigger == ReportKind::every;
        if (!often || sound.endless() || sound.layers.empty() || action.verb == model::Verb::hold) return;
        const auto moved = [](const std::vector<model::Follow>& follows) {
            return std::any_of(follows.begin(), follows.end(),
                               [](const auto& follow) { return follow.target != model::FollowTarget::pan; });
        };
        bool one = !varies(sound.vary) && !moved(sound.follows) && sound.lfos.empty();
        for (const model::Layer& layer : sound.layers)
            one = one && layer.takes.size() == 1 && layer.chance >= 1 && !varies(layer.vary) && !moved(layer.follows) &&
                  layer.lfos.empty();
        if (one)
            findings_.add(FindingCode::no_variation, binding.source,
                          fmt::format("{}: {} is frequent, but \"{}\" is one recording without variation", what,
                                      to_string(binding.trigger), sound.name),
                          "add takes, or write vary = { pitch = 1, gain = 2 }", sound.name);
    }

    void too_long(const model::Sound& sound, double apart, const std::string& what, model::Source source) {
        const double lasts = model::shortest(project_, sound);
        if (sound.endless() || sound.limit.plays == 1 || lasts <= apart || apart <= 0) return;
        findings_.add(FindingCode::overlap_grows, source,
                      fmt::format("{} \"{}\" every {:.3g} s, but lasts {:.3g} s, so its plays pile up", what,
                                  sound.name, apart, lasts),
                      "use a shorter clip, play it less often, or write limit = { plays = 1 }", sound.name);
    }

    void markers(const model::Motion& motion) {
        for (const model::Motion::Marker& marker : motion.markers) {
            const model::Binding* bound = nullptr;
            for (const model::Binding& binding : project_.bindings)
                if (binding.trigger == ReportKind::marker && binding.name == motion.name &&
                    binding.other == marker.name)
                    bound = &binding;
            if (!bound) {
                findings_.add(
                    FindingCode::nothing_bound, motion.source,
                    fmt::format("motion \"{}\": nothing is bound to marker \"{}\"", motion.name, marker.name),
                    fmt::format("bind it: trigger = {{ marker = [\"{}\", \"{}\"] }}", motion.name, marker.name),
                    motion.name);
                continue;
            }
            std::vector<double> places = marker.places;
            std::sort(places.begin(), places.end());
            double apart = places.empty() ? 0 : places.front() + motion.frames - places.back();
            for (std::size_t i = 1; i < places.size(); ++i) apart = std::max(apart, places[i] - places[i - 1]);
            for (const model::Action& action : bound->actions)
                if (const model::Sound* sound = played(action))
                    too_long(*sound, apart / motion.rate, fmt::format("marker \"{}\" plays", marker.name),
                             motion.source);
        }
    }

    /// `last`: nothing comes after these steps.
    void waits(const model::Sequence& sequence, const std::vector<model::Step>& steps, const std::string& what,
               bool last) {
        bool plays = false;
        for (std::size_t i = 0; i < steps.size(); ++i) {
            const model::Step& step = steps[i];
            const bool at_end = last && i + 1 == steps.size();
            if (step.kind == model::Step::Kind::act)
                plays = plays || played(step.action) || step.action.verb == model::Verb::run;
            const bool wait = step.kind == model::Step::Kind::wait || step.kind == model::Step::Kind::wait_for_end;
            if (wait && at_end)
                findings_.add(FindingCode::idle_wait, sequence.source,
                              fmt::format("{}: nothing follows the last wait", what), "remove that wait",
                              sequence.name);
            else if (step.kind == model::Step::Kind::wait_for_end && !plays && last)
                findings_.add(
                    FindingCode::idle_wait, sequence.source,
                    fmt::format("{}: step {} waits for the end of plays, but nothing was played", what, i + 1),
                    "play something before the wait, or wait for a time", sequence.name);
            for (const auto& part : step.parts) {
                // Between two turns of a repeat, its last wait counts.
                waits(sequence, part, what, step.kind == model::Step::Kind::together && at_end);
                model::for_each_action(part, [&](const model::Action& action) { plays = plays || played(action); });
            }
        }
    }

    const model::Project& project_;
    reader::Findings& findings_;
};

} // namespace

void doubt_bindings(const model::Project& project, reader::Findings& findings) {
    Doubts(project, findings).run();
}

} // namespace kiai::workshop
