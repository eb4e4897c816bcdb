// The default of a key is the same in the table of keys and in the model.
#include "core/model/project.h"

#include <kiai/builder.h>
#include <kiai/keys.h>

#include <catch2/catch.hpp>

#include <algorithm>
#include <cstdlib>
#include <map>
#include <optional>

using namespace kiai;

namespace {

/// Returns the default of a key in the table, if it can be written.
std::optional<Setting> default_of(const Key& key) {
    const std::string text = key.default_value;
    char* end = nullptr;
    const double number = std::strtod(text.c_str(), &end);
    const bool is_number = !text.empty() && *end == '\0';
    switch (key.takes) {
    case Takes::number:
    case Takes::whole:
    case Takes::spread:
        return is_number ? std::optional<Setting>(number) : std::nullopt;
    case Takes::truth:
        if (text == "true" || text == "false") return Setting(text == "true");
        return std::nullopt;
    case Takes::word:
        if (("|" + std::string(key.choices) + "|").find("|" + text + "|") != std::string::npos) return Setting(text);
        return std::nullopt;
    case Takes::time:
    case Takes::times:
        if (text == "0") return Setting("0 ms");
        if (text.ends_with(" ms")) return Setting(text);
        return std::nullopt;
    default:
        return std::nullopt;
    }
}

/// Makes a project with every section that has such keys, and one more key in one of them.
model::Project project_with(const std::string& section, const std::string& key, const std::optional<Setting>& value) {
    std::map<std::string, Settings> tables{
        {"sound", {{"takes", Setting{"tone"}}, {"loop", true}, {"bus", "pieces"}}},
        {"layer", {{"takes", Setting{"tone"}}}},
        {"vary", {{"pitch", 1}}},
        {"follow", {{"value", "strength"}, {"target", "gain"}, {"curve", Setting{Setting{0, -6}, Setting{1, 0}}}}},
        {"lfo", {{"target", "pitch"}, {"rate", 5}, {"depth", 0.3}}},
        {"loop", {{"to", "1 ms"}}},
        {"limit", {{"plays", 3}}},
        {"bus", {}},
        {"zone", {{"circle", Settings{{"x", 1}, {"y", 2}, {"r", 3}}}}},
        {"scope", {}},
        {"motion", {{"frames", 24}, {"markers", Settings{{"begin", 0}}}}},
    };
    if (value) tables.at(section).members.push_back({key, *value});
    const auto list = [&](const char* of) { return Setting(std::vector<Setting>{Setting(tables.at(of))}); };
    ProjectBuilder builder;
    builder.clip("tone", {48000, 1, std::vector<float>(480, 0.1f)});
    builder.set("sound.whole", tables.at("sound"));
    builder.add("sound.layered.layer", tables.at("layer"));
    builder.add("sound.layered.layer", {{"takes", Setting{"tone"}},
                                        {"vary", Setting(tables.at("vary"))},
                                        {"follow", list("follow")},
                                        {"lfo", list("lfo")},
                                        {"loop", Setting(tables.at("loop"))}});
    builder.set("sound.layered.limit", tables.at("limit"));
    builder.set("bus.pieces", tables.at("bus"));
    builder.set("zone.hopper", tables.at("zone"));
    builder.set("scope.bench", tables.at("scope"));
    builder.set("motion.paddle", tables.at("motion"));
    const LoadResult built = builder.build();
    INFO(section << "." << key);
    for (const Finding& finding : built.findings) UNSCOPED_INFO(finding);
    REQUIRE(built.ok());
    return built.project.data();
}

} // namespace

TEST_CASE("A key that is set to its default changes nothing", "[keys]") {
    const model::Project without = project_with("sound", {}, std::nullopt);
    int compared = 0;
    for (const Key& key : project_keys()) {
        const std::string section = key.parent, name = key.name;
        const bool known =
            std::string("|sound|layer|vary|follow|lfo|loop|limit|bus|zone|scope|motion|").find("|" + section + "|") !=
            std::string::npos;
        const std::optional<Setting> value = known ? default_of(key) : std::nullopt;
        if (!value) continue;
        const model::Project with = project_with(section, name, value);
        INFO(section << "." << name << " = " << key.default_value);
        CHECK(with.sounds == without.sounds);
        CHECK(with.buses == without.buses);
        CHECK(with.zones == without.zones);
        CHECK(with.scopes == without.scopes);
        CHECK(with.motions == without.motions);
        ++compared;
    }
    CHECK(compared >= 30);
    // A value other than the default does change something.
    CHECK_FALSE(project_with("sound", "fade-out", "20 ms").sounds == without.sounds);
    CHECK_FALSE(project_with("zone", "order", 1).zones == without.zones);
}
