#include "core/rules/watches.h"

#include "core/model/binding_names.h"

#include <algorithm>

namespace kiai::rules {

Watches::Watches(const model::Project& project, model::NameTable& names, Hub& hub)
    : bindings_(project.bindings), hub_(hub), of_dial_(project.dials.size()) {
    for (const model::Dial& dial : project.dials) known_.push_back(dial.starts);
    const std::vector<std::uint64_t> all_names = model::names_of(bindings_);
    for (std::size_t b = 0; b < bindings_.size(); ++b) {
        if (bindings_[b].trigger != ReportKind::watch || bindings_[b].name.empty()) continue;
        for (const model::Clause& clause : bindings_[b].watch) {
            auto& list = of_dial_[static_cast<std::size_t>(clause.dial)];
            const int number = static_cast<int>(watches_.size());
            if (list.empty() || list.back() != number) list.push_back(number);
        }
        watches_.push_back(
            {static_cast<int>(b), names.add(bindings_[b].name), holder_of(ReportKind::watch, all_names[b]), false});
    }
}

void Watches::look_at(Watch& watch, const mixer::Plays& plays, std::uint64_t from) noexcept {
    const model::Binding& binding = bindings_[static_cast<std::size_t>(watch.binding)];
    if (!hub_.scope_on(binding.scope)) return;
    // A watch that is true turns false only if a number misses its limit by the margin, so that a fluttering value
    // starts nothing.
    const bool holds = std::all_of(binding.watch.begin(), binding.watch.end(), [&](const model::Clause& clause) {
        return known_[static_cast<std::size_t>(clause.dial)] &&
               clause.holds(plays.dial(clause.dial), watch.on ? binding.margin : 0);
    });
    if (holds == watch.on) return;
    watch.on = holds;
    Event began;
    began.kind = ReportKind::watch;
    began.name = watch.name;
    began.from = from;
    if (!holds) return hub_.over(watch.holder, began, 0);
    began.binding = watch.binding;
    began.holder = watch.holder;
    hub_.happen(began);
}

void Watches::look(int dial, const mixer::Plays& plays, std::uint64_t from) noexcept {
    if (dial < 0)
        for (Watch& watch : watches_) look_at(watch, plays, from);
    else
        for (const int number : of_dial_[static_cast<std::size_t>(dial)])
            look_at(watches_[static_cast<std::size_t>(number)], plays, from);
}

void Watches::go_on_from(const Watches& other, const mixer::Change& change) noexcept {
    for (std::size_t d = 0; d < other.known_.size(); ++d) known_[d] = known_[d] || other.known_[d];
    for (const Watch& was : other.watches_) {
        if (!was.on) continue;
        const int now = change.bindings[static_cast<std::size_t>(was.binding)];
        const auto found =
            std::find_if(watches_.begin(), watches_.end(), [&](const Watch& watch) { return watch.binding == now; });
        if (found != watches_.end()) {
            found->on = true;
            continue;
        }
        Event ended;
        ended.kind = ReportKind::watch;
        ended.name = was.name;
        hub_.over(was.holder, ended, 0);
    }
}

void Watches::forget(int scope) noexcept {
    for (Watch& watch : watches_)
        if (bindings_[static_cast<std::size_t>(watch.binding)].scope == scope) watch.on = false;
}

} // namespace kiai::rules
