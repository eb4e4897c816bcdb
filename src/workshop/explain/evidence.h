// Finds how far an event came on its way to the ear, by its decisions.
#pragma once

#include "core/model/project.h"

#include <kiai/workshop/why.h>

#include <functional>
#include <set>
#include <string>
#include <vector>

namespace kiai::workshop {

/// The decisions about the subject of the question.
struct Evidence {
    const model::Project& project;
    const std::vector<Decision>& decisions;
    int sample_rate = 48000;
    std::function<bool(const Decision&)> about; ///< of those without a sound: it is about this
    std::set<std::string> sounds;               ///< that it is about; empty: those that `about` holds for

    std::string at(Frames frame) const; ///< `at 3.200 s`
    /// Returns the n-th binding; null for 0 and for unknown ones, because a log may be older than the project.
    const model::Binding* binding(int number) const noexcept;
};

/// How far an event came.
struct Came {
    bool happened = false; ///< if false, there is no decision about it
    bool heard = false;
    bool mistaken = false; ///< the app has made a mistake that explains silence, whatever else was heard
    Link link = Link::triggered;
    std::string detail, fix;
    model::Source source;
};

/// Returns the event that came furthest; ties: the last.
Came furthest(const Evidence& evidence);

/// Returns the causes of what a binding did, and of the consequences.
std::set<std::uint64_t> causes_of(const std::vector<Decision>& decisions, int binding);
/// Adds the consequences.
std::set<std::uint64_t> with_what_followed(const std::vector<Decision>& decisions, std::set<std::uint64_t> causes);

/// The gain that leaves a play inaudible: `bus "pieces" has a gain of -70 dB`, with its place.
struct Lowered {
    std::string detail, fix;
    model::Source source;
};
Lowered lowered_most(const Evidence& evidence, const Decision& ended);

} // namespace kiai::workshop
