// Finds out why something is silent: follows the chain from a name to the output, to the first link that fails.
#pragma once

#include <kiai/workshop/rehearse.h>

#include <string>
#include <string_view>
#include <vector>

namespace kiai::inline v0 {

class Speaker;

/// The links of the chain, in order.
enum class Link {
    registered, ///< kiai.toml has the entry, without errors
    file,       ///< its file exists
    decoded,    ///< the file can be decoded and is audible
    bound,      ///< a binding or the app plays it
    triggered,  ///< its trigger happened
    scope,      ///< the scope of the binding was on
    condition,  ///< the conditions of the binding were true
    limit,      ///< no gap or limit refused it
    lasted,     ///< it was not stopped at once
    level,      ///< gains, mutes and follows leave it audible
    device,     ///< an output device plays
};
const char* to_string(Link link) noexcept;

struct Diagnosis {
    struct Step {
        Link link = Link::registered;
        bool holds = true;
        std::string detail; ///< one line, or empty
    };
    std::string subject;     ///< `sound oak`, `press hopper`
    std::vector<Step> chain; ///< in order; only the last may be broken
    std::string fix;         ///< what to do about the broken link
    std::string file;        ///< the file to change, or empty
    int line = 0;            ///< from 1; 0: unknown

    /// Returns true if no broken link was found.
    bool heard() const noexcept { return chain.empty() || chain.back().holds; }
    /// Returns the broken link, or null.
    const Step* broken() const noexcept { return heard() ? nullptr : &chain.back(); }
    /// Returns one line: `oak is silent: condition: …; fix`.
    std::string message() const;
};

/// Diagnoses a project: fires each binding that plays the sound in a new engine.
/// `about`: a sound or clip (`oak`), or a trigger (`press hopper`, `press 118 82`; see trigger.h). [control]
Diagnosis why_silent(const Project& project, std::string_view about);
/// Diagnoses a run: a rehearsal, or a log that `load_log` read. [control]
Diagnosis why_silent(const Project& project, std::string_view about, const Rehearsal& happened);
/// Diagnoses a running engine by the decisions that `poll` has read. `speaker`: also checks this output device.
/// [control]
Diagnosis why_silent(const Engine& engine, std::string_view about, const Speaker* speaker = nullptr);

} // namespace kiai::inline v0
