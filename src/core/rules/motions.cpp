#include "core/rules/motions.h"

#include <algorithm>
#include <cmath>

namespace kiai::rules {

Motions::Motions(const std::vector<model::Motion>& motions, model::NameTable& names, Hub& hub) : hub_(hub) {
    for (const model::Motion& motion : motions) {
        Run& run = motions_.emplace_back();
        run.name = names.add(motion.name);
        run.length = motion.frames;
        run.rate = motion.rate;
        run.gone = motion.gone;
        run.backwards = motion.backwards;
        for (const auto& marker : motion.markers)
            for (const double place : marker.places) run.places.push_back({place, names.add(marker.name)});
        std::stable_sort(run.places.begin(), run.places.end(),
                         [](const Place& a, const Place& b) { return a.frame < b.frame; });
        run.playheads.resize(most_playheads);
    }
}

int Motions::number_of(model::NameId name) const noexcept {
    for (std::size_t m = 0; m < motions_.size(); ++m)
        if (motions_[m].name == name && !motions_[m].gone) return static_cast<int>(m);
    return -1;
}

/// Returns the distance. A lower frame means that the playhead wrapped around; with `backwards`, the shorter way.
double Motions::way(const Run& motion, double from, double to) const noexcept {
    const double way = to - from;
    if (!motion.backwards) return way >= 0 ? way : way + motion.length * std::ceil(-way / motion.length);
    const auto within = [&](double frame) { return frame >= 0 && frame < motion.length; };
    if (within(from) && within(to) && std::abs(way) > motion.length / 2)
        return way > 0 ? way - motion.length : way + motion.length;
    return way;
}

void Motions::fire(const Run& motion, const Place& place) noexcept {
    Event crossed;
    crossed.kind = ReportKind::marker;
    crossed.name = motion.name;
    crossed.other = place.marker;
    crossed.quiet = true; // a motion may have markers that are bound elsewhere
    hub_.happen(crossed);
}

/// Fires each marker on the way once, in the order in which the playhead reaches them.
void Motions::cross(const Run& motion, double from, double way) noexcept {
    const auto count = motion.places.size();
    const auto ahead = [&](const Place& place, double least) { // how far it is to it, more than `least`
        const double distance = way > 0 ? place.frame - from : from - place.frame;
        return distance > least ? distance : distance + motion.length;
    };
    std::size_t first = 0; // the nearest; from there on they come in order, round the seam
    for (std::size_t i = 1; i < count; ++i)
        if (ahead(motion.places[i], 0) < ahead(motion.places[first], 0) ||
            (way < 0 && ahead(motion.places[i], 0) == ahead(motion.places[first], 0)))
            first = i;
    for (std::size_t i = 0; i < count; ++i) {
        const Place& place = motion.places[way > 0 ? (first + i) % count : (first + count - i) % count];
        if (ahead(place, 0) <= std::abs(way)) fire(motion, place);
    }
}

void Motions::report(int number, int which, double frame) noexcept {
    Run& motion = motions_[static_cast<std::size_t>(number)];
    Playhead& playhead = motion.playheads[static_cast<std::size_t>(which)];
    const auto wrapped = [&](double at) { return at - motion.length * std::floor(at / motion.length); };
    if (!playhead.known) {
        // The first report fires markers at its frame, or less than a frame before it.
        for (const Place& place : motion.places)
            if (place.frame <= wrapped(frame) && place.frame > wrapped(frame) - 1) fire(motion, place);
    } else {
        const double went = way(motion, playhead.frame, frame);
        if (went != 0) cross(motion, wrapped(playhead.frame), went);
    }
    playhead = {true, frame};
}

void Motions::gone(int number, int which) noexcept {
    motions_[static_cast<std::size_t>(number)].playheads[static_cast<std::size_t>(which)] = {};
}

} // namespace kiai::rules
