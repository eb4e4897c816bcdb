// Finds the bindings of a trigger, at a cost that does not grow with their number.
#pragma once

#include "core/model/names.h"
#include "core/model/prefetch.h"
#include "core/model/project.h"
#include "core/model/sort_records.h"

#include <algorithm>
#include <cstdint>
#include <span>
#include <tuple>
#include <vector>

namespace kiai::rules {

/// The part of a binding that every trigger needs. Nearly all have one action. It is stored here too, because in a
/// large project each page of memory that a trigger reads costs time.
struct alignas(64) Bound {
    const std::vector<model::Action>* listed = nullptr;
    int number = 0; ///< of the binding, from 0
    int scope = -1;
    model::NameId name = model::no_name, other = model::no_name;
    ReportKind kind = ReportKind::start;
    bool lost = false, repeats = false;
    bool ruled = false;  ///< it has conditions
    bool single = false; ///< it has one action: `action`
    model::Action action;

    std::span<const model::Action> actions() const noexcept { return single ? std::span(&action, 1) : *listed; }
};

/// Names are small numbers, so those of each kind of trigger are looked up in a table.
class Bindings {
  public:
    /// [control] `bindings` must outlive the object.
    Bindings(const std::vector<model::Binding>& bindings, model::NameTable& names) : places_(bindings.size()) {
        for (std::size_t i = 0; i < bindings.size(); ++i) {
            const model::Binding& binding = bindings[i];
            Bound one;
            one.listed = &binding.actions;
            one.number = static_cast<int>(i);
            one.scope = binding.scope;
            one.name = names.add(binding.name);
            if (!binding.other.empty()) one.other = names.add(binding.other);
            one.kind = binding.trigger;
            one.lost = binding.lost;
            one.repeats = binding.repeats;
            one.ruled =
                !binding.when.empty() || binding.chance < 1 || binding.once || binding.nth > 1 || binding.gap.value > 0;
            one.single = binding.actions.size() == 1;
            if (one.single) one.action = binding.actions.front();
            order(one.kind, one.name, one.other);
            bound_.push_back(one);
        }
        // The bindings of one trigger are contiguous, in the order of kiai.toml.
        model::sort_records(bound_, [](const Bound& a, const Bound& b) {
            return std::tie(a.kind, a.name, a.other, a.number) < std::tie(b.kind, b.name, b.other, b.number);
        });
        for (std::size_t i = 0; i < bound_.size(); ++i) places_[static_cast<std::size_t>(bound_[i].number)] = i;
        for (std::size_t begin = 0, end = 0; begin < bound_.size(); begin = end) {
            while (end < bound_.size() && bound_[end].kind == bound_[begin].kind) ++end;
            build(begin, end);
        }
    }
    /// Orders the two kinds of a contact, which may come in either order.
    static void order(ReportKind kind, model::NameId& name, model::NameId& other) noexcept {
        if ((kind == ReportKind::contact || kind == ReportKind::contact_end) && name > other) std::swap(name, other);
    }
    /// Returns the bindings in the order of kiai.toml. [rt]
    std::span<const Bound> find(ReportKind kind, model::NameId name,
                                model::NameId other = model::no_name) const noexcept {
        order(kind, name, other);
        const auto named = find_named(kind, name);
        if (named.empty() || (named.front().other == other && named.back().other == other)) return named;
        const auto [first, last] = std::equal_range(named.begin(), named.end(), other, ByOther{});
        return {first, last};
    }
    /// Returns true if they do not fit into the processor's first caches, so that prefetching is worth its time.
    bool many() const noexcept { return bound_.size() > 1000; }
    /// Prefetch what `find` and the actions will read: the table, then the bindings. `name`: the first in order. [rt]
    void prefetch_place(ReportKind kind, model::NameId name) const noexcept {
        if (const std::uint32_t* const place = place_of(kind, name)) model::prefetch(place);
    }
    void prefetch_bound(ReportKind kind, model::NameId name) const noexcept {
        if (const auto named = find_named(kind, name); !named.empty())
            model::prefetch_object(named.front(), read_by_most);
    }
    const Bound& at(int binding) const noexcept { return bound_[places_[static_cast<std::size_t>(binding)]]; }

  private:
    static constexpr std::size_t read_by_most = 128; ///< bytes of a `Bound`; the others are mostly its action's name

    struct OfKind {
        model::NameId from = 0;
        /// The place in `bound_` of the first binding of each name, by the name less `from`, and the place after all.
        std::vector<std::uint32_t> begins;
    };
    struct ByOther {
        bool operator()(const Bound& one, model::NameId other) const noexcept { return one.other < other; }
        bool operator()(model::NameId other, const Bound& one) const noexcept { return other < one.other; }
    };
    /// Makes the table of the bindings of one kind.
    void build(std::size_t begin, std::size_t end) {
        const auto kind = static_cast<std::size_t>(bound_[begin].kind);
        if (by_kind_.size() <= kind) by_kind_.resize(kind + 1);
        OfKind& of = by_kind_[kind];
        of.from = bound_[begin].name;
        for (std::size_t i = begin; i < end; ++i)
            of.begins.resize(bound_[i].name - of.from + 1, static_cast<std::uint32_t>(i));
        of.begins.push_back(static_cast<std::uint32_t>(end));
    }
    const std::uint32_t* place_of(ReportKind kind, model::NameId name) const noexcept {
        if (static_cast<std::size_t>(kind) >= by_kind_.size()) return nullptr;
        const OfKind& of = by_kind_[static_cast<std::size_t>(kind)];
        if (name < of.from || name - of.from + 1 >= of.begins.size()) return nullptr;
        return &of.begins[name - of.from];
    }
    std::span<const Bound> find_named(ReportKind kind, model::NameId name) const noexcept {
        const std::uint32_t* const place = place_of(kind, name);
        return place ? std::span(bound_.data() + place[0], bound_.data() + place[1]) : std::span<const Bound>();
    }

    std::vector<OfKind> by_kind_;
    std::vector<std::size_t> places_; ///< in `bound_`, by number
    std::vector<Bound> bound_;        ///< by kind, name and other name
};

} // namespace kiai::rules
