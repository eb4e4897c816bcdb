#include "core/model/ascii.h"
#include "core/reader/project_reader.h"
#include "runtime/project/parse_toml.h"
#include "runtime/project/read_folder.h"
#include "workshop/check/uses.h"
#include "workshop/edit/references.h"
#include "workshop/facts/facts_cache.h"

#include <kiai/workshop/catalogue.h>

#include <algorithm>
#include <cctype>

namespace kiai::inline v0 {
namespace {

namespace fs = std::filesystem;

std::int64_t whole(std::size_t count) {
    return static_cast<std::int64_t>(count);
}

std::string actions_of(const model::Binding& binding) {
    std::string text;
    for (const model::Action& action : binding.actions)
        text += (text.empty() ? "" : ", ") + to_string(model::taken(action));
    return text;
}

/// Returns the conditions of a binding as text.
std::string conditions_of(const model::Project& project, const model::Binding& binding) {
    std::vector<std::string> all;
    if (binding.scope >= 0) all.push_back("in " + project.scopes[static_cast<std::size_t>(binding.scope)].name);
    for (const model::Clause& clause : binding.when) all.push_back(model::to_string(clause));
    if (binding.once) all.emplace_back("once");
    if (binding.nth > 1) all.push_back("every " + std::to_string(binding.nth));
    std::string text;
    for (const std::string& one : all) text += (text.empty() ? "" : ", ") + one;
    return text;
}

class Lister {
  public:
    Lister(const model::Project& project, const std::optional<std::set<int>>& fired)
        : project_(project), fired_(fired), uses_(workshop::uses_of(project)) {}

    std::vector<CatalogueEntry> run(const reader::Value& root) {
        clips();
        left_out(root, "clip");
        sounds();
        left_out(root, "sound");
        bindings();
        zones();
        left_out(root, "zone");
        named();
        for (const char* kind : {"bus", "dial", "scope", "motion", "sequence"}) left_out(root, kind);
        notices();
        unknown(root);
        return std::move(all_);
    }

  private:
    void clips() {
        for (std::size_t c = 0; c < project_.clips.size(); ++c) {
            const model::Clip& clip = project_.clips[c];
            const Facts& facts = *clip.facts;
            CatalogueEntry& listed =
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
            if (sound.implied || sound.pending) continue;
            std::size_t takes = 0;
            for (const model::Layer& layer : sound.layers) takes += layer.takes.size();
            const bool used = uses_.sounds.contains(static_cast<int>(s));
            add("sound", sound.name,
                sound.variant ? "variant"
                : used        ? "used"
                              : "unbound",
                sound.source.line)
                .details = {{"layers", whole(sound.layers.size())},
                            {"takes", whole(takes)},
                            {"loop", sound.endless()},
                            {"plays", std::int64_t{sound.limit.plays}},
                            {"full", std::string(to_string(sound.limit.full))},
                            {"bus", project_.buses[static_cast<std::size_t>(sound.bus)].name}};
        }
    }

    void bindings() {
        for (std::size_t b = 0; b < project_.bindings.size(); ++b) {
            const model::Binding& binding = project_.bindings[b];
            const int number = static_cast<int>(b) + 1;
            if (binding.actions.empty()) {
                add("binding", model::binding_title(binding, static_cast<std::size_t>(number)), "left-out",
                    binding.source.line);
                continue;
            }
            const bool idle = fired_ && !fired_->contains(number);
            add("binding", model::trigger_text(binding), idle ? "never-fired" : "used", binding.source.line).details = {
                {"binding", std::int64_t{number}},
                {"action", actions_of(binding)},
                {"when", conditions_of(project_, binding)}};
        }
    }

    void zones() {
        for (const model::Zone& zone : project_.zones) {
            const model::Box box = model::box_of(zone.shape);
            add("zone", zone.name, uses_.zones.contains(zone.name) ? "used" : "unbound", zone.source.line).details = {
                {"shape", std::string(model::shape_name(zone.shape))},
                {"left", box.left},
                {"top", box.top},
                {"width", box.right - box.left},
                {"height", box.bottom - box.top},
                {"order", std::int64_t{zone.order}},
                {"scope", scope_name(zone.scope)}};
        }
    }

    std::string scope_name(int scope) const {
        return scope < 0 ? std::string() : project_.scopes[static_cast<std::size_t>(scope)].name;
    }

    /// Lists entries that only other entries name.
    void named() {
        const auto state = [](const std::set<int>& used, std::size_t i) {
            return used.contains(static_cast<int>(i)) ? "used" : "unused";
        };
        for (std::size_t b = 1; b < project_.buses.size(); ++b) {
            const model::Bus& bus = project_.buses[b];
            add("bus", bus.name, state(uses_.buses, b), bus.source.line).details = {
                {"into", project_.buses[static_cast<std::size_t>(bus.into)].name},
                {"gain", bus.gain},
                {"plays", std::int64_t{bus.limit.plays}}};
        }
        for (std::size_t d = 0; d < project_.dials.size(); ++d) {
            const model::Dial& dial = project_.dials[d];
            add("dial", dial.name, state(uses_.dials, d), dial.source.line).details = {
                {"start", dial.start}, {"low", dial.low}, {"high", dial.high}};
        }
        for (std::size_t s = 0; s < project_.scopes.size(); ++s)
            add("scope", project_.scopes[s].name, state(uses_.scopes, s), project_.scopes[s].source.line).details = {
                {"on", project_.scopes[s].on}};
        for (std::size_t m = 0; m < project_.motions.size(); ++m) {
            const model::Motion& motion = project_.motions[m];
            std::string markers;
            for (const auto& marker : motion.markers) markers += (markers.empty() ? "" : ", ") + marker.name;
            add("motion", motion.name, state(uses_.motions, m), motion.source.line).details = {
                {"frames", std::int64_t{motion.frames}}, {"rate", motion.rate}, {"markers", markers}};
        }
        for (std::size_t s = 0; s < project_.sequences.size(); ++s)
            add("sequence", project_.sequences[s].name, state(uses_.sequences, s), project_.sequences[s].source.line)
                .details = {{"steps", whole(project_.sequences[s].steps.size())},
                            {"scope", scope_name(project_.sequences[s].scope)}};
    }

    void notices() {
        for (std::size_t b = 0; b < project_.bindings.size(); ++b) {
            const model::Binding& binding = project_.bindings[b];
            if (binding.trigger == ReportKind::notice && !binding.name.empty())
                add("notice", binding.name, "used", binding.source.line).details = {{"binding", whole(b) + 1},
                                                                                    {"action", actions_of(binding)}};
        }
    }

    /// Lists entries of kiai.toml that are excluded because of errors.
    void left_out(const reader::Value& root, const std::string& kind) {
        const reader::Value* section = root.find(kind);
        for (std::size_t i = 0; section && i < section->members.size(); ++i) {
            const reader::Member& member = section->members[i];
            const bool there = std::any_of(all_.begin(), all_.end(), [&](const CatalogueEntry& listed) {
                return listed.kind == kind && listed.name == member.key;
            });
            const bool pending =
                std::any_of(project_.pending.begin(), project_.pending.end(),
                            [&](const model::Pending& one) { return one.kind == kind && one.name == member.key; });
            if (!there) add(kind, member.key, pending ? "pending" : "left-out", member.source.line);
        }
    }

    /// Lists names that nothing defines.
    void unknown(const reader::Value& root) {
        const auto is_there = [&](const char* section, const std::string& name) {
            const reader::Value* entries = root.find(section);
            return entries && entries->find(name);
        };
        for (const workshop::Reference& reference : workshop::all_references(root)) {
            if (std::get<std::string>(reference.place.front()) == "accepted") continue; // it may name a removed entry
            static constexpr const char* sections[] = {"sound", "clip",  "sound",  "zone",    "bus",
                                                       "dial",  "scope", "motion", "sequence"};
            const char* section = sections[static_cast<int>(reference.kind)];
            const bool played = reference.kind == EntryKind::any || reference.kind == EntryKind::sound;
            const bool there = is_there(section, reference.name) || (played && is_there("clip", reference.name)) ||
                               (reference.kind == EntryKind::bus && reference.name == "main") ||
                               reference.in_condition(); // there it may be a value of the trigger
            if (!there) add(section, reference.name, "unknown", reference.source.line);
        }
    }

    CatalogueEntry& add(const std::string& kind, const std::string& name, const std::string& state, int line) {
        all_.push_back({kind, name, state, {}, line, {}});
        return all_.back();
    }

    const model::Project& project_;
    const std::optional<std::set<int>>& fired_;
    workshop::Uses uses_;
    std::vector<CatalogueEntry> all_;
};

std::string lower(std::string text) {
    for (char& c : text) c = model::lower(c);
    return text;
}

bool wanted(const CatalogueEntry& listed, const CatalogueFilter& filter) {
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
    workshop::FactsCache cache(folder, false);
    LoadResult read = runtime::read_folder(cache);
    Catalogue result;
    result.project = read.project.name();
    const auto parsed = runtime::parse_toml(runtime::read_text(folder).text);
    if (const auto* root = std::get_if<reader::Value>(&parsed))
        result.entries = Lister(read.project.data(), filter.fired).run(*root);
    std::erase_if(result.entries, [&](const CatalogueEntry& listed) { return !wanted(listed, filter); });
    result.findings = std::move(read.findings);
    return result;
}

} // namespace kiai::inline v0
