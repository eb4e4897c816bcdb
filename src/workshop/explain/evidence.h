// How far something came on its way to the ear, by the decisions about it.
#pragma once

#include "core/model/project.h"

#include <kiai/workshop/why.h>

#include <functional>
#include <set>
#include <string>
#include <vector>

namespace kiai::workshop {

/// The decisions that tell of what is asked about.
struct Evidence {
    const model::Project& project;
    const std::vector<Decision>& decisions;
    int sample_rate = 48000;
    std::function<bool(const Decision&)> about; ///< of those without a sound: it is about this
    std::set<std::string> sounds;               ///< that it is about; empty: those that `about` holds for

    std::string at(Frames frame) const; ///< `at 3.200 s`
    /// The n-th; null for 0, and for those that the project has not: a log may be older than it.
    const model::Binding* binding(int number) const noexcept;
};

/// The frame of its end.
struct Came {
    bool happened = false; ///< else there is no decision about it at all
    bool heard = false;
    bool mistaken = false; ///< the app has made a mistake that explains silence, whatever else was heard
    Link link = Link::triggered;
    std::string detail, fix;
    model::Source source;
};

/// The one that came furthest, and of those the last.
Came furthest(const Evidence& evidence);

/// The causes of what a binding did, and of the result of that.
std::set<std::uint64_t> causes_of(const std::vector<Decision>& decisions, int binding);
/// With the results.
std::set<std::uint64_t> with_what_followed(const std::vector<Decision>& decisions, std::set<std::uint64_t> causes);

/// Which gain leaves so little of a play: `bus "pieces" has a gain of -70 dB`, with its place.
struct Lowered {
    std::string detail, fix;
    model::Source source;
};
Lowered lowered_most(const Evidence& evidence, const Decision& ended);

} // namespace kiai::workshop
