// Reports stops without a sound, notices without a binding, sounds that outlive their scope, and endless cascades.
#include "core/model/effects.h"
#include "workshop/check/findings.h"

#include <fmt/format.h>

#include <algorithm>
#include <functional>
#include <map>
#include <set>
#include <string>
#include <vector>

namespace kiai::workshop {
namespace {

using model::Action;
using model::Target;
using model::Verb;

class Effects {
  public:
    Effects(const model::Project& project, reader::Findings& findings) : project_(project), findings_(findings) {}

    void run() {
        for_each([&](const Action& action, const std::string& what, model::Source source) {
            if (action.verb == Verb::stop && action.target == Target::sound) dead_stop(action, what, source);
            if (action.verb == Verb::notice) unheard(action, what, source);
        });
        for (std::size_t b = 0; b < project_.bindings.size(); ++b) outlives(project_.bindings[b], b + 1);
        cascades();
    }

  private:
    /// Calls `use` with each action, its owner and its position.
    void for_each(const std::function<void(const Action&, const std::string&, model::Source)>& use) const {
        for (std::size_t b = 0; b < project_.bindings.size(); ++b)
            for (const Action& action : project_.bindings[b].actions)
                use(action, model::binding_title(project_.bindings[b], b + 1), project_.bindings[b].source);
        for (const model::Sequence& sequence : project_.sequences)
            model::for_each_action(sequence.steps, [&](const Action& action) {
                use(action, fmt::format("sequence \"{}\"", sequence.name), sequence.source);
            });
    }

    void dead_stop(const Action& stop, const std::string& what, model::Source source) {
        const std::string& name = project_.sounds[static_cast<std::size_t>(stop.index)].name;
        bool started = false;
        for_each([&](const Action& action, const std::string&, model::Source) {
            started = started || (model::starts(action.verb) && action.target == Target::sound &&
                                  project_.sounds[static_cast<std::size_t>(action.index)].name == name);
        });
        if (!started)
            findings_.add(FindingCode::dead_stop, source,
                          fmt::format("{} stops \"{}\", which nothing plays", what, name),
                          "correct the name, or accept the finding if code plays it", name);
    }

    void unheard(const Action& notice, const std::string& what, model::Source source) {
        const bool heard = std::any_of(project_.bindings.begin(), project_.bindings.end(), [&](const auto& binding) {
            return binding.trigger == ReportKind::notice && binding.name == notice.name;
        });
        if (!heard)
            findings_.add(FindingCode::nothing_bound, source,
                          fmt::format("{} gives notice \"{}\", but nothing is bound to it", what, notice.name),
                          fmt::format("bind it: trigger = {{ notice = \"{}\" }}", notice.name), notice.name);
    }

    /// Reports endless sounds that entering a scope starts and that do not belong to it.
    void outlives(const model::Binding& binding, std::size_t number) {
        if (binding.trigger != ReportKind::scope_enter || binding.name.empty()) return;
        for (const Action& action : binding.actions) {
            if (!model::starts(action.verb) || action.target != Target::sound || action.verb == Verb::hold ||
                action.lasts)
                continue;
            const model::Sound& sound = project_.sounds[static_cast<std::size_t>(action.index)];
            const bool own =
                binding.scope >= 0 && project_.scopes[static_cast<std::size_t>(binding.scope)].name == binding.name;
            if (!sound.endless() || sound.outlives || own || stopped_on_leaving(binding.name, sound.name)) continue;
            findings_.add(FindingCode::outlives_scope, binding.source,
                          fmt::format("{} starts \"{}\" on entering \"{}\", but leaving does not stop it",
                                      model::binding_title(binding, number), sound.name, binding.name),
                          fmt::format("write scope = \"{}\" in the binding, or use `hold`", binding.name), sound.name);
        }
    }

    bool stopped_on_leaving(const std::string& scope, const std::string& sound) const {
        return std::any_of(project_.bindings.begin(), project_.bindings.end(), [&](const model::Binding& binding) {
            return binding.trigger == ReportKind::scope_leave && binding.name == scope &&
                   std::any_of(binding.actions.begin(), binding.actions.end(), [&](const Action& action) {
                       return action.verb == Verb::stop &&
                              (action.target != Target::sound ||
                               project_.sounds[static_cast<std::size_t>(action.index)].name == sound);
                   });
        });
    }

    // What causes what at the same moment: notices and sequences, by name.
    using Node = std::pair<Verb, std::string>;

    void edges_of(const Action& action, std::set<Node>& into) const {
        if (action.verb == Verb::notice) into.insert({Verb::notice, action.name});
        if (action.verb == Verb::run)
            into.insert({Verb::run, project_.sequences[static_cast<std::size_t>(action.index)].name});
    }
    /// Collects what steps cause before their first wait; returns true if they take no time at all.
    bool edges_of(const std::vector<model::Step>& steps, std::set<Node>& into) const {
        for (const model::Step& step : steps) {
            switch (step.kind) {
            case model::Step::Kind::act:
                edges_of(step.action, into);
                break;
            case model::Step::Kind::wait:
                if (step.time.value > 0) return false;
                break;
            case model::Step::Kind::wait_for_end:
                return false; // it may wait
            case model::Step::Kind::repeat:
            case model::Step::Kind::together: {
                bool timeless = true;
                for (const auto& part : step.parts) timeless = edges_of(part, into) && timeless;
                if (!timeless) return false;
                break;
            }
            }
        }
        return true;
    }

    void cascades() {
        std::map<Node, std::set<Node>> edges;
        std::map<Node, model::Source> sources;
        for (const model::Binding& binding : project_.bindings) {
            // A binding that fires once, rarely or under a condition ends the cascade by itself.
            const bool always = binding.when.empty() && !binding.once && binding.nth <= 1 && binding.chance >= 1 &&
                                binding.gap.value <= 0;
            if (binding.trigger != ReportKind::notice || !always) continue;
            const Node node{Verb::notice, binding.name};
            sources.emplace(node, binding.source);
            for (const Action& action : binding.actions) edges_of(action, edges[node]);
        }
        for (const model::Sequence& sequence : project_.sequences) {
            const Node node{Verb::run, sequence.name};
            sources.emplace(node, sequence.source);
            edges_of(sequence.steps, edges[node]);
        }
        std::set<Node> done;
        for (const auto& [node, next] : edges) {
            const std::vector<Node> circle = circle_from(node, edges);
            if (circle.empty() || done.count(node) != 0) continue;
            done.insert(circle.begin(), circle.end());
            std::string way;
            for (const Node& one : circle) way += name_of(one) + " → ";
            findings_.add(FindingCode::endless_cascade, sources.at(node),
                          fmt::format("{}{}: an endless loop of triggers", way, name_of(node)),
                          "remove one of them, or add a wait to a sequence", node.second);
        }
    }

    static std::string name_of(const Node& node) {
        return fmt::format("{} \"{}\"", node.first == Verb::notice ? "notice" : "sequence", node.second);
    }

    /// Returns the nodes of a path from `start` back to it, `start` first; empty if there is none.
    static std::vector<Node> circle_from(const Node& start, const std::map<Node, std::set<Node>>& edges) {
        std::map<Node, Node> came_from;
        std::vector<Node> open{start};
        while (!open.empty()) {
            const Node node = open.back();
            open.pop_back();
            const auto found = edges.find(node);
            if (found == edges.end()) continue;
            for (const Node& next : found->second) {
                if (next == start) {
                    std::vector<Node> way{node};
                    while (way.back() != start) way.push_back(came_from.at(way.back()));
                    std::reverse(way.begin(), way.end());
                    return way;
                }
                if (came_from.emplace(next, node).second) open.push_back(next);
            }
        }
        return {};
    }

    const model::Project& project_;
    reader::Findings& findings_;
};

} // namespace

void doubt_effects(const model::Project& project, reader::Findings& findings) {
    Effects(project, findings).run();
}

} // namespace kiai::workshop
