// Why something is silent: the chain from a name to the ear, up to the first link that is broken.
#pragma once

#include <kiai/workshop/rehearse.h>

#include <string>
#include <string_view>
#include <vector>

namespace kiai::inline v0 {

class Speaker;

/// The links, in their order.
enum class Link {
    registered, ///< kiai.toml names it, and nothing about it is wrong
    file,       ///< its file is there
    decoded,    ///< it can be read, and holds something to hear
    bound,      ///< a binding plays it, or the app
    triggered,  ///< what it is bound to happened
    scope,      ///< the binding's scope was on
    condition,  ///< its conditions held
    limit,      ///< no gap or limit refused it
    lasted,     ///< it was not ended at once
    level,      ///< gains, mutes and what follows left something to hear
    device,     ///< an output plays
};
const char* to_string(Link link) noexcept;

struct Diagnosis {
    struct Step {
        Link link = Link::registered;
        bool holds = true;
        std::string detail; ///< what was found, in one line; may be empty
    };
    std::string subject;     ///< `sound oak`, `press hopper`
    std::vector<Step> chain; ///< in order; only the last may be broken
    std::string fix;         ///< what to do about the broken one
    std::string file;        ///< where: the file, or empty
    int line = 0;            ///< from 1; 0: no certain one

    /// Nothing is broken, as far as could be seen.
    bool heard() const noexcept { return chain.empty() || chain.back().holds; }
    /// The broken link.
    const Step* broken() const noexcept { return heard() ? nullptr : &chain.back(); }
    /// One line: `oak is silent: condition: …; fix`.
    std::string message() const;
};

/// `about`: a sound or clip (`oak`), or a trigger (`press hopper`, `press 118 82`; see trigger.h). Of the project
/// alone: each binding that plays it is fired in a fresh engine. [control]
Diagnosis why_silent(const Project& project, std::string_view about);
/// Of what happened: a rehearsal, or a log that `load_log` has read. [control]
Diagnosis why_silent(const Project& project, std::string_view about, const Rehearsal& happened);
/// Of an engine that runs: by what `poll` has read so far. `speaker`: what plays it, where that is to be asked too.
/// [control]
Diagnosis why_silent(const Engine& engine, std::string_view about, const Speaker* speaker = nullptr);

} // namespace kiai::inline v0
