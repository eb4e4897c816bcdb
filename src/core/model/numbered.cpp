#include "core/model/numbered.h"

#include <map>
#include <set>

namespace kiai::model {
namespace {

void add_values(const std::vector<Follow>& follows, std::set<std::string>& values) {
    for (const Follow& follow : follows)
        if (follow.value == Value::own) values.insert(follow.own);
}

} // namespace

std::vector<NumberedName> numbered_names(const Project& project) {
    std::vector<NumberedName> all;
    std::map<std::string, std::uint32_t> numbers;
    const auto add = [&](NameKind kind, const std::string& text) {
        const auto number = numbers.emplace(text, static_cast<std::uint32_t>(numbers.size()) + 1).first->second;
        all.push_back({kind, text, number});
    };
    const auto add_all = [&](NameKind kind, const auto& entries) {
        for (const auto& entry : entries) add(kind, entry.name);
    };
    add_all(NameKind::bus, project.buses);
    add_all(NameKind::dial, project.dials);
    add_all(NameKind::scope, project.scopes);
    add_all(NameKind::zone, project.zones);
    add_all(NameKind::motion, project.motions);
    add_all(NameKind::sequence, project.sequences);
    std::set<std::string> notices, bodies, values;
    for (const Binding& binding : project.bindings) {
        if (binding.trigger == ReportKind::notice) notices.insert(binding.name);
        if (binding.trigger == ReportKind::contact) bodies.insert({binding.name, binding.other});
    }
    for (const Sound& sound : project.sounds) {
        add_values(sound.follows, values);
        for (const Layer& layer : sound.layers) add_values(layer.follows, values);
    }
    for (const std::string& notice : notices) add(NameKind::notice, notice);
    for (const std::string& body : bodies) add(NameKind::contact, body);
    for (const std::string& value : values) add(NameKind::value, value);
    for (const Sound& sound : project.sounds)
        if (!sound.implied) add(NameKind::sound, sound.name);
    for (const Sound& sound : project.sounds) // last: a pack holds only those clips that something uses
        if (sound.implied) add(NameKind::clip, sound.name);
    return all;
}

} // namespace kiai::model
