#include "core/model/scope_clips.h"

namespace kiai::model {
namespace {

/// A binding to a zone or a scope is active while that is on.
int scope_of(const Project& project, const Binding& binding) {
    if (binding.scope >= 0) return binding.scope;
    switch (binding.trigger) {
    case ReportKind::press:
    case ReportKind::release:
    case ReportKind::enter:
    case ReportKind::leave:
        for (const Zone& zone : project.zones)
            if (zone.name == binding.name) return zone.scope;
        return -1;
    case ReportKind::scope_enter:
        for (std::size_t s = 0; s < project.scopes.size(); ++s)
            if (project.scopes[s].name == binding.name) return static_cast<int>(s);
        return -1;
    default:
        return -1;
    }
}

void add(const Project& project, const Action& action, int scope, std::vector<std::set<int>>& scopes) {
    if (action.target != Target::sound) return;
    for (const Layer& layer : project.sounds[static_cast<std::size_t>(action.index)].layers)
        for (const int take : layer.takes) scopes[static_cast<std::size_t>(take)].insert(scope);
}

void add(const Project& project, const std::vector<Step>& steps, int scope, std::vector<std::set<int>>& scopes) {
    for (const Step& step : steps) {
        if (step.kind == Step::Kind::act) add(project, step.action, scope, scopes);
        for (const auto& part : step.parts) add(project, part, scope, scopes);
    }
}

} // namespace

std::vector<std::set<int>> scopes_of_clips(const Project& project) {
    std::vector<std::set<int>> scopes(project.clips.size());
    for (const Binding& binding : project.bindings)
        for (const Action& action : binding.actions) add(project, action, scope_of(project, binding), scopes);
    for (const Sequence& sequence : project.sequences) add(project, sequence.steps, sequence.scope, scopes);
    return scopes;
}

} // namespace kiai::model
