#include "audit/uses.h"
#include "files/facts_cache.h"
#include "files/project_reader.h"
#include "files/references.h"

#include <kiai/catalogue.h>

#include <algorithm>
#include <cctype>

namespace kiai::inline v0 {
namespace {

namespace fs = std::filesystem;

std::int64_t whole(std::size_t count) {
    return static_cast<std::int64_t>(count);
}

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

class Lister {
  public:
    Lister(const model::Project& project, const std::optional<std::set<int>>& fired)
        : project_(project), fired_(fired), uses_(audit::uses_of(project)) {}

    std::vector<Listed> run(const files::Value& root) {
        clips();
        left_out(root, "clip");
        sounds();
        left_out(root, "sound");
        bindings();
        zones();
        left_out(root, "zone");
        notices();
        unknown(root);
        return std::move(all_);
    }

  private:
    void clips() {
        for (std::size_t c = 0; c < project_.clips.size(); ++c) {
            const model::Clip& clip = project_.clips[c];
            const Facts& facts = *clip.facts;
            Listed& listed =
                add("clip", clip.name, uses_.clips.contains(static_cast<int>(c)) ? "used" : "unused", clip.source.line);
            listed.folder = fs::path(clip.file).parent_path().generic_string();
            listed.details = {{"file", clip.file},
                              {"seconds", facts.seconds()},
                              {"rate", std::int64_t{facts.rate}},
                              {"channels", std::int64_t{facts.channels}},
                              {"coding", facts.coding},
                              {"from", std::string(clip.streams ? "disk" : "memory")},
                              {"loudness", static_cast<double>(facts.loudness)},
                              {"licence", clip.credit.licence}};
        }
    }

    void sounds() {
        for (std::size_t s = 0; s < project_.sounds.size(); ++s) {
            const model::Sound& sound = project_.sounds[s];
            if (sound.implied) continue;
            std::size_t takes = 0;
            for (const model::Layer& layer : sound.layers) takes += layer.takes.size();
            add("sound", sound.name, uses_.sounds.contains(static_cast<int>(s)) ? "used" : "unbound", sound.source.line)
                .details = {{"layers", whole(sound.layers.size())},
                            {"takes", whole(takes)},
                            {"loop", sound.endless()},
                            {"plays", std::int64_t{sound.limit.plays}},
                            {"full", std::string(model::to_string(sound.limit.full))},
                            {"bus", project_.buses[static_cast<std::size_t>(sound.bus)].name}};
        }
    }

    void bindings() {
        for (std::size_t b = 0; b < project_.bindings.size(); ++b) {
            const model::Binding& binding = project_.bindings[b];
            const int number = static_cast<int>(b) + 1;
            if (binding.actions.empty()) {
                add("binding", "binding " + std::to_string(number), "left-out", binding.source.line);
                continue;
            }
            const bool idle = fired_ && !fired_->contains(number);
            add("binding", trigger_of(binding), idle ? "never-fired" : "used", binding.source.line).details = {
                {"binding", std::int64_t{number}}, {"action", actions_of(project_, binding)}};
        }
    }

    void zones() {
        for (const model::Zone& zone : project_.zones)
            add("zone", zone.name, uses_.zones.contains(zone.name) ? "used" : "unbound", zone.source.line).details = {
                {"shape", std::string(zone.round ? "circle" : "rectangle")},
                {"x", zone.round ? zone.circle.x : zone.rectangle.x},
                {"y", zone.round ? zone.circle.y : zone.rectangle.y},
                {"width", zone.round ? 2 * zone.circle.r : zone.rectangle.width},
                {"height", zone.round ? 2 * zone.circle.r : zone.rectangle.height},
                {"order", std::int64_t{zone.order}}};
    }

    void notices() {
        for (std::size_t b = 0; b < project_.bindings.size(); ++b) {
            const model::Binding& binding = project_.bindings[b];
            if (binding.trigger == ReportKind::notice && !binding.name.empty())
                add("notice", binding.name, "used", binding.source.line).details = {
                    {"binding", whole(b) + 1}, {"action", actions_of(project_, binding)}};
        }
    }

    /// What stands in kiai.toml, but could not be used.
    void left_out(const files::Value& root, const std::string& kind) {
        const files::Value* section = root.find(kind);
        for (std::size_t i = 0; section && i < section->members.size(); ++i) {
            const files::Member& member = section->members[i];
            const bool there = std::any_of(all_.begin(), all_.end(), [&](const Listed& listed) {
                return listed.kind == kind && listed.name == member.key;
            });
            const bool pending =
                std::any_of(project_.pending.begin(), project_.pending.end(),
                            [&](const model::Pending& one) { return one.kind == kind && one.name == member.key; });
            if (!there) add(kind, member.key, pending ? "pending" : "left-out", member.source.line);
        }
    }

    /// What is named, but stands nowhere.
    void unknown(const files::Value& root) {
        const auto is_there = [&](const char* section, const std::string& name) {
            const files::Value* entries = root.find(section);
            return entries && entries->find(name);
        };
        for (const files::Reference& reference : files::all_references(root)) {
            if (std::get<std::string>(reference.place.front()) == "accepted") continue; // it is about what may be gone
            const bool zone = reference.kind == EntryKind::zone, clip = reference.kind == EntryKind::clip;
            const bool there = zone ? is_there("zone", reference.name)
                                    : is_there("clip", reference.name) || (!clip && is_there("sound", reference.name));
            if (!there) add(zone ? "zone" : clip ? "clip" : "sound", reference.name, "unknown", reference.source.line);
        }
    }

    Listed& add(const std::string& kind, const std::string& name, const std::string& state, int line) {
        all_.push_back({kind, name, state, {}, line, {}});
        return all_.back();
    }

    const model::Project& project_;
    const std::optional<std::set<int>>& fired_;
    audit::Uses uses_;
    std::vector<Listed> all_;
};

std::string lower(std::string text) {
    for (char& c : text) c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    return text;
}

bool wanted(const Listed& listed, const CatalogueFilter& filter) {
    if (!filter.kind.empty() && listed.kind != filter.kind) return false;
    if (!filter.state.empty() && listed.state != filter.state) return false;
    if (!filter.folder.empty()) {
        const fs::path relative =
            fs::path(listed.folder).lexically_normal().lexically_relative(fs::path(filter.folder).lexically_normal());
        if (listed.kind != "clip" || relative.empty() || *relative.begin() == "..") return false;
    }
    const std::string word = lower(filter.word);
    return lower(listed.name).find(word) != std::string::npos ||
           std::any_of(listed.details.begin(), listed.details.end(), [&](const auto& detail) {
               const auto* text = std::get_if<std::string>(&detail.second);
               return text && lower(*text).find(word) != std::string::npos;
           });
}

} // namespace

Catalogue catalogue(const fs::path& folder, const CatalogueFilter& filter) {
    files::FactsCache cache(folder, false);
    Loaded read = files::read_project(folder, cache);
    Catalogue result;
    result.project = read.project.name();
    const auto parsed = files::parse_toml(files::read_text(folder).text);
    if (const auto* root = std::get_if<files::Value>(&parsed))
        result.entries = Lister(read.project.data(), filter.fired).run(*root);
    std::erase_if(result.entries, [&](const Listed& listed) { return !wanted(listed, filter); });
    result.findings = std::move(read.findings);
    return result;
}

} // namespace kiai::inline v0
