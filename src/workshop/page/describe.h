// What a page shows, as JSON.
#pragma once

#include "core/model/project.h"
#include "workshop/page/feed.h"

#include <kiai/engine.h>
#include <kiai/workshop/catalogue.h>
#include <kiai/workshop/check.h>
#include <kiai/workshop/why.h>

#include <filesystem>
#include <string>
#include <vector>

namespace kiai::workshop {

/// What a page may do, and which project it shows.
struct PageProject {
    Project project;
    Catalogue catalogue;           ///< empty for a pack
    std::vector<Finding> findings; ///< of `kiai check`, or of loading
    std::uint64_t revision = 0;    ///< another number for each project that was set
    std::string text_id = {};      ///< of kiai.toml, see Editor
    std::string entries = "{}";    ///< kiai.toml as JSON, for editing
};

struct PageRights {
    bool reports = false; ///< it may report triggers and call the engine
    bool records = false; ///< it may record traces into the project
    bool edits = false;   ///< it may change kiai.toml
    bool picture = false; ///< there is a picture of the app
};

/// Returns the project: its zones, bindings, dials, scopes, motions and buses, its tables and its findings.
std::string describe_project(const PageProject& shown, const PageRights& rights, int rate);
/// Returns the present state, for an event.
std::string describe_state(const Engine& engine, const Project& project);
std::string describe_ducked(const std::map<std::string, DuckedBus>& ducked);
/// Returns kiai.toml as JSON, or `{}` if it is not valid TOML.
std::string describe_toml(const std::filesystem::path& folder);
/// `text`: identifies the new text; `steps`: how many changes can be undone.
std::string describe_edit(const EditResult& edited, const std::string& text, std::size_t steps);
std::string describe_diagnosis(const Diagnosis& diagnosis);
/// Returns `{"message": …, "fix": …}`, or `{}`.
std::string describe_error(const std::string& message, const std::string& fix);
/// Returns a JSON text.
std::string quoted(const std::string& text);
/// Returns the credit and the waveform of a clip: peaks in dBFS, of columns of equal length.
std::string describe_clip(const model::Clip& clip, const model::Audio& audio);

} // namespace kiai::workshop
