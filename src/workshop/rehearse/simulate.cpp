#include "core/model/effects.h"
#include "workshop/rehearse/firing.h"
#include "workshop/rehearse/rounds.h"
#include "workshop/rehearse/spreads.h"

#include <kiai/workshop/simulate.h>

#include <algorithm>
#include <cmath>
#include <set>
#include <vector>

namespace kiai::inline v0 {
namespace {

constexpr int bins = 24;
constexpr Frames longest_step = 16384;

/// The constant part of a take's gain or pitch, by the binding's action if one plays it.
struct Fixed {
    double gain = 0, pitch = 0;
};

class Tally {
  public:
    Tally(const model::Project& project, int sound, const model::Binding& binding, const FireSettings& settings)
        : project_(project), sound_(project.sounds[static_cast<std::size_t>(sound)]), settings_(settings),
          layers_(sound_.layers.size()) {
        of_.sound = sound_.name;
        for (const model::Action& action : binding.actions)
            if (model::starts(action.verb) && action.target == model::Target::sound && action.index == sound) {
                direct_ = true;
                own_.gain = action.gain;
                own_.pitch = action.pitch;
            }
        for (std::size_t l = 0; l < sound_.layers.size(); ++l) {
            const model::Layer& layer = sound_.layers[l];
            SimulatedLayer& told = of_.layers.emplace_back();
            told.layer = static_cast<int>(l) + 1;
            told.chance = layer.chance;
            told.pick = layer.pick == model::Pick::weighted ? "weighted"
                        : layer.pick == model::Pick::cycle  ? "cycle"
                                                            : "shuffle";
            double all = 0;
            for (const double weight : layer.weights) all += weight;
            for (std::size_t t = 0; t < layer.takes.size(); ++t)
                told.takes.push_back({project.clips[static_cast<std::size_t>(layer.takes[t])].name, 0,
                                      layer.pick == model::Pick::weighted && all > 0
                                          ? layer.weights[t] / all
                                          : 1.0 / static_cast<double>(layer.takes.size())});
        }
    }

    void take(const Decision& decision) {
        switch (decision.outcome) {
        case Outcome::played:
            ++of_.plays;
            for (const LayerTake& layer : decision.layers) take(layer);
            break;
        case Outcome::refused_gap:
            ++of_.refused["gap"];
            break;
        case Outcome::refused_limit:
            ++of_.refused[decision.limit ? to_string(*decision.limit) : std::string()];
            break;
        case Outcome::refused_full:
            ++of_.refused["engine full"];
            break;
        case Outcome::stolen:
            ++of_.stolen;
            break;
        default:
            break;
        }
    }

    SimulatedSound finish() {
        for (std::size_t l = 0; l < layers_.size(); ++l) {
            of_.layers[l].pitch = histogram(l, layers_[l].pitch, true);
            of_.layers[l].gain = histogram(l, layers_[l].gain, false);
        }
        return std::move(of_);
    }

  private:
    struct Drawn {
        std::vector<double> pitch, gain;
        int last = 0;
    };

    void take(const LayerTake& layer) {
        const auto l = static_cast<std::size_t>(layer.layer - 1);
        if (l >= layers_.size()) return;
        SimulatedLayer& told = of_.layers[l];
        ++told.heard;
        if (layer.number >= 1 && layer.number <= static_cast<int>(told.takes.size()))
            ++told.takes[static_cast<std::size_t>(layer.number - 1)].count;
        if (layers_[l].last == layer.number && layer.of > 1) ++told.same_twice;
        layers_[l].last = layer.number;
        layers_[l].pitch.push_back(layer.pitch);
        layers_[l].gain.push_back(layer.gain);
    }

    /// Returns false if an unknown value affects it.
    bool follow(const std::vector<model::Follow>& follows, Fixed& fixed) const {
        for (const model::Follow& one : follows) {
            if (one.target == model::FollowTarget::balance) return false;
            if (one.target != model::FollowTarget::gain && one.target != model::FollowTarget::pitch) continue;
            const bool known = one.value == model::Value::strength || one.value == model::Value::place;
            if (!known) continue; // dials and own values move it later
            const double by = one.curve.at(one.value == model::Value::strength ? settings_.strength : settings_.place);
            (one.target == model::FollowTarget::gain ? fixed.gain : fixed.pitch) += by;
        }
        return true;
    }

    bool fixed_of(std::size_t l, std::size_t take, Fixed& fixed) const {
        const model::Layer& layer = sound_.layers[l];
        fixed.gain =
            own_.gain + sound_.gain + layer.gain + project_.clips[static_cast<std::size_t>(layer.takes[take])].gain;
        fixed.pitch = own_.pitch + sound_.pitch + layer.pitch;
        for (int bus = sound_.bus; bus >= 0; bus = project_.buses[static_cast<std::size_t>(bus)].into)
            fixed.gain += project_.buses[static_cast<std::size_t>(bus)].gain;
        return direct_ && follow(layer.follows, fixed) && follow(sound_.follows, fixed);
    }

    Histogram histogram(std::size_t l, std::vector<double> drawn, bool pitch) const {
        Histogram shown;
        if (drawn.empty()) return shown;
        const model::Layer& layer = sound_.layers[l];
        workshop::SumOfSpreads sum;
        for (const model::Vary* vary : {&layer.vary, &sound_.vary})
            sum.add(pitch ? vary->pitch : vary->gain, vary->bell);
        std::sort(drawn.begin(), drawn.end());
        shown.low = drawn.front();
        shown.high = drawn.back();
        bool known = true;
        std::vector<std::pair<double, double>> parts; // of each take: what is fixed, how often it comes
        for (std::size_t t = 0; t < layer.takes.size(); ++t) {
            Fixed fixed;
            known = known && fixed_of(l, t, fixed);
            const double at = pitch ? fixed.pitch : fixed.gain;
            parts.emplace_back(at, of_.layers[l].takes[t].stated);
            if (known && of_.layers[l].takes[t].stated > 0) {
                shown.low = std::min(shown.low, at + sum.low());
                shown.high = std::max(shown.high, at + sum.high());
            }
        }
        if (shown.high - shown.low < 1e-4) { // what is left is rounding
            shown.high = shown.low;
            return shown;
        }
        const double width = (shown.high - shown.low) / bins;
        shown.counts.resize(bins);
        for (const double value : drawn)
            ++shown.counts[static_cast<std::size_t>(std::clamp((value - shown.low) / width, 0.0, bins - 1.0))];
        if (!known) return shown;
        const auto at_most = [&](double value) {
            double part = 0;
            for (const auto& [at, often] : parts) part += often * sum.at_most(value - at);
            return part;
        };
        for (int b = 0; b < bins; ++b)
            shown.stated.push_back(at_most(shown.low + width * (b + 1)) -
                                   (b == 0 ? 0 : at_most(shown.low + width * b)));
        const auto count = static_cast<double>(drawn.size());
        for (std::size_t i = 0; i < drawn.size(); ++i) {
            if (i + 1 < drawn.size() && drawn[i + 1] == drawn[i]) continue; // a step of its own
            shown.difference =
                std::max(shown.difference, std::abs(static_cast<double>(i + 1) / count - at_most(drawn[i] + 1e-6)));
        }
        return shown;
    }

    const model::Project& project_;
    const model::Sound& sound_;
    const FireSettings& settings_;
    bool direct_ = false; ///< the binding itself plays it
    Fixed own_;
    SimulatedSound of_;
    std::vector<Drawn> layers_;
};

/// Follows the consequences of a binding, decision by decision.
class Caused {
  public:
    explicit Caused(int binding) : binding_(binding) {}
    bool take(const Decision& decision) {
        if (decision.cause == 0 || decision.outcome == Outcome::ended) return false;
        if (decision.binding == binding_ || causes_.contains(decision.from)) causes_.insert(decision.cause);
        return causes_.contains(decision.cause);
    }

  private:
    int binding_;
    std::set<std::uint64_t> causes_;
};

} // namespace

Simulation simulate(const Project& given, int number, const SimulateSettings& settings) {
    Simulation told;
    told.binding = number;
    if (number < 1 || number > static_cast<int>(given.data().bindings.size())) {
        told.impossible = "no such binding";
        return told;
    }
    const Project project = settings.fire.anyway ? workshop::without_conditions(given, number) : given;
    const model::Project& data = project.data();
    const model::Binding& binding = data.bindings[static_cast<std::size_t>(number - 1)];
    told.trigger = model::trigger_text(binding);
    told.impossible = workshop::only_once(binding);
    if (told.impossible.empty()) told.impossible = workshop::stage(data, binding, settings.fire).impossible;
    if (told.impossible.empty() && binding.actions.empty()) told.impossible = "an error disables it";
    if (!told.impossible.empty()) return told;

    EngineSettings with;
    with.sample_rate = settings.fire.sample_rate;
    with.seed = told.seed = settings.fire.seed;
    with.synchronous_streams = true;
    with.decide_only = true;
    Engine engine(project, with);
    const int rate = engine.sample_rate();
    const double interval = std::clamp(settings.interval.count(), 0.01, 3600.0);
    std::map<std::string, Tally> tallies;
    for (const int sound : model::sounds_started_in_the_end(data, binding))
        tallies.emplace(data.sounds[static_cast<std::size_t>(sound)].name, Tally(data, sound, binding, settings.fire));
    Caused caused(number);
    engine.set_findings({});
    engine.set_log([&](const Decision& decision) {
        const bool own = caused.take(decision) || decision.outcome == Outcome::stolen;
        if (own && decision.binding == number && decision.outcome == Outcome::not_met) ++told.kept[decision.rule];
        const auto tally = tallies.find(decision.sound);
        if (own && tally != tallies.end()) tally->second.take(decision);
    });
    std::vector<float> silence(2 * longest_step);
    const auto run_to = [&](double seconds) {
        for (const auto until = static_cast<Frames>(seconds * rate); engine.now() < until; engine.poll())
            engine.render({silence.data(), 2 * static_cast<std::size_t>(std::min(longest_step, until - engine.now()))});
    };
    const bool by_itself = binding.trigger == ReportKind::every;
    const double round = by_itself ? static_cast<double>(binding.time.frames(rate)) / rate : interval;
    workshop::Rounds rounds(data, binding, settings.fire, interval);
    for (int n = 0; n < std::clamp(settings.times, 1, 1000000); ++n) {
        if (!by_itself || n == 0)
            for (const TraceLine& line : rounds.reports(n))
                engine.report(line.report, static_cast<Frames>((n * round + line.at) * rate));
        run_to((n + 1) * round + (by_itself ? round / 2 : 0));
        told.times = n + 1;
        if (settings.progress)
            settings.progress(static_cast<std::size_t>(n + 1), static_cast<std::size_t>(settings.times));
    }
    if (!by_itself) run_to(told.times * round + 1); // later events
    for (auto& [name, tally] : tallies) told.sounds.push_back(tally.finish());
    return told;
}

} // namespace kiai::inline v0
