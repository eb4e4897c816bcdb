// kiai list: what a project holds.
#include "command.h"
#include "table.h"

#include "model/project.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <iostream>
#include <memory>

namespace kiai::tool {
namespace {

using json = nlohmann::ordered_json;

const std::vector<std::string> kinds{"clips", "sounds", "bindings", "zones", "notices"};

struct Arguments {
    std::vector<std::string> words;
    bool json = false;
};

std::string trigger_of(const model::Binding& binding) {
    return to_string(binding.trigger) + (" " + binding.name) + (binding.other.empty() ? "" : "+" + binding.other);
}

std::string actions_of(const model::Project& project, const model::Binding& binding) {
    std::string text;
    for (const model::Action& action : binding.actions)
        text += (text.empty() ? "" : ", ") + std::string(to_string(action.kind)) + " " +
                project.sounds[static_cast<std::size_t>(action.sound)].name;
    return text;
}

json clips(const model::Project& project) {
    json all = json::array();
    for (const model::Clip& clip : project.clips)
        all.push_back({{"name", clip.name},
                       {"file", clip.file},
                       {"seconds", static_cast<double>(clip.audio->frames) / clip.audio->rate},
                       {"rate", clip.audio->rate},
                       {"channels", clip.audio->channels}});
    return all;
}

json sounds(const model::Project& project) {
    json all = json::array();
    for (const model::Sound& sound : project.sounds) {
        if (sound.implied) continue;
        std::size_t takes = 0;
        for (const model::Layer& layer : sound.layers) takes += layer.takes.size();
        all.push_back({{"name", sound.name},
                       {"layers", sound.layers.size()},
                       {"takes", takes},
                       {"loop", sound.endless},
                       {"plays", sound.limit.plays},
                       {"full", sound.limit.full == model::Full::refuse ? "refuse" : "end-oldest"}});
    }
    return all;
}

json bindings(const model::Project& project) {
    json all = json::array();
    for (std::size_t i = 0; i < project.bindings.size(); ++i) {
        const model::Binding& binding = project.bindings[i];
        if (binding.actions.empty()) continue;
        all.push_back({{"name", trigger_of(binding)},
                       {"binding", i + 1},
                       {"action", actions_of(project, binding)},
                       {"line", binding.source.line}});
    }
    return all;
}

json zones(const model::Project& project) {
    json all = json::array();
    for (const model::Zone& zone : project.zones) {
        const auto& c = zone.circle;
        const auto& r = zone.rectangle;
        all.push_back({{"name", zone.name},
                       {"order", zone.order},
                       {"shape", zone.round ? "circle" : "rectangle"},
                       {"where", zone.round ? fmt::format("x {} y {} r {}", c.x, c.y, c.r)
                                            : fmt::format("x {} y {}, {} x {}", r.x, r.y, r.width, r.height)}});
    }
    return all;
}

json notices(const model::Project& project) {
    json all = json::array();
    for (const model::Binding& binding : project.bindings) {
        if (binding.trigger != ReportKind::notice || binding.actions.empty()) continue;
        const auto same =
            std::find_if(all.begin(), all.end(), [&](const json& entry) { return entry["name"] == binding.name; });
        if (same == all.end())
            all.push_back({{"name", binding.name}, {"bindings", 1}});
        else
            (*same)["bindings"] = (*same)["bindings"].get<int>() + 1;
    }
    return all;
}

json entries(const model::Project& project, const std::string& kind) {
    if (kind == "clips") return clips(project);
    if (kind == "sounds") return sounds(project);
    if (kind == "bindings") return bindings(project);
    return kind == "zones" ? zones(project) : notices(project);
}

std::string cell(const json& value) {
    if (value.is_string()) return value.get<std::string>();
    if (value.is_boolean()) return value.get<bool>() ? "yes" : "no";
    return value.is_number_float() ? fmt::format("{:.3f}", value.get<double>()) : value.dump();
}

void print_table(const std::string& kind, const json& all) {
    std::cout << paint(fmt::format("{} {}", all.size(), kind), 36) << '\n';
    if (all.empty()) return;
    std::vector<std::string> heads;
    for (const auto& [key, value] : all[0].items()) heads.push_back(key);
    Table table(heads);
    for (const json& entry : all) {
        std::vector<std::string> cells;
        for (const auto& [key, value] : entry.items()) cells.push_back(cell(value));
        table.add(std::move(cells));
    }
    table.print();
}

Status run(Arguments arguments) {
    // `list clips` names no project, `list marble-run` no kind: a word is a kind where it is one, unless a project of
    // that name is there.
    std::vector<std::string>& words = arguments.words;
    const bool first_is_kind = !words.empty() && std::find(kinds.begin(), kinds.end(), words.front()) != kinds.end();
    const auto folder = take_project(words, words.size() == 1 && !first_is_kind ? 0 : 1);
    if (!words.empty() && std::find(kinds.begin(), kinds.end(), words.front()) == kinds.end()) {
        say_error(fmt::format("\"{}\" cannot be listed; one of: {}", words.front(), fmt::join(kinds, ", ")));
        return wrong_use;
    }
    const Loaded loaded = load_or_say(folder);
    const std::vector<std::string> wanted = words.empty() ? kinds : words;
    if (arguments.json) {
        json all = json::array();
        for (const std::string& kind : wanted)
            for (json entry : entries(loaded.project.data(), kind)) {
                if (wanted.size() > 1) entry["kind"] = kind;
                all.push_back(std::move(entry));
            }
        std::cout << all.dump(2) << '\n';
    } else {
        for (const std::string& kind : wanted) {
            if (kind != wanted.front()) std::cout << '\n';
            print_table(kind, entries(loaded.project.data(), kind));
        }
    }
    return loaded.ok() ? done : failed;
}

} // namespace

void add_list(CLI::App& app, Chosen& chosen) {
    auto arguments = std::make_shared<Arguments>();
    CLI::App& command = declare(app, "list", "Show what a project holds", "kiai list marble-run sounds --json");
    command
        .add_option(
            "what", arguments->words,
            "The project's folder, then one of: clips, sounds, bindings, zones, notices; default: all of this project")
        ->expected(0, 2);
    command.add_flag("--json", arguments->json, "Print an array of objects with a name");
    command.callback([arguments, &chosen] { chosen = [arguments] { return run(*arguments); }; });
}

} // namespace kiai::tool
