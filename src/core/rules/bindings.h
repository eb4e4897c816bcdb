// Finds the bindings of a trigger, at a cost that does not grow with their number.
#pragma once

#include "core/model/chance.h"
#include "core/model/names.h"
#include "core/model/project.h"
#include "core/rules/prefetch.h"

#include <algorithm>
#include <bit>
#include <cstdint>
#include <span>
#include <vector>

namespace kiai::rules {

/// The part of a binding that every trigger needs, stored separately because it is only a few bytes.
struct Bound {
    const model::Action* actions = nullptr;
    int count = 0;
    int number = 0; ///< of the binding, from 0
    int scope = -1;
    bool lost = false, repeats = false;
    bool ruled = false; ///< it has conditions
};

class Bindings {
  public:
    /// [control] `bindings` must outlive the object.
    Bindings(const std::vector<model::Binding>& bindings, model::NameTable& names)
        : slots_(std::bit_ceil(bindings.size() + bindings.size() / 4 + 2)) {
        std::vector<std::pair<std::uint64_t, Bound>> all;
        for (std::size_t i = 0; i < bindings.size(); ++i) {
            const model::Binding& binding = bindings[i];
            const model::NameId other = binding.other.empty() ? model::no_name : names.add(binding.other);
            const bool ruled =
                !binding.when.empty() || binding.chance < 1 || binding.once || binding.nth > 1 || binding.gap.value > 0;
            all.emplace_back(key(binding.trigger, names.add(binding.name), other),
                             Bound{binding.actions.data(), static_cast<int>(binding.actions.size()),
                                   static_cast<int>(i), binding.scope, binding.lost, binding.repeats, ruled});
        }
        // The bindings of one key are contiguous, in the order of kiai.toml.
        std::stable_sort(all.begin(), all.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
        places_.resize(all.size());
        for (const auto& [key, one] : all) {
            Slot& slot = slots_[place_of(key)];
            if (slot.count == 0) slot = {key, static_cast<int>(bound_.size()), 0};
            ++slot.count;
            places_[static_cast<std::size_t>(one.number)] = bound_.size();
            bound_.push_back(one);
        }
    }
    /// Returns the bindings in the order of kiai.toml. The kinds of a contact may come in either order. [rt]
    std::span<const Bound> find(ReportKind kind, model::NameId name,
                                model::NameId other = model::no_name) const noexcept {
        const Slot& slot = slots_[place_of(key(kind, name, other))];
        return {bound_.data() + slot.first, static_cast<std::size_t>(slot.count)};
    }
    /// Returns true if they do not fit into the processor's first caches, so that prefetching is worth its time.
    bool many() const noexcept { return bound_.size() > 1000; }
    /// Prefetches what `find` will read: first the slot, then its bindings, then their actions. [rt]
    void prefetch_slot(ReportKind kind, model::NameId name, model::NameId other) const noexcept {
        prefetch(&slots_[home_of(key(kind, name, other))]);
    }
    void prefetch_bound(ReportKind kind, model::NameId name, model::NameId other) const noexcept {
        const auto found = find(kind, name, other);
        if (!found.empty()) prefetch(found.data());
    }
    void prefetch_actions(ReportKind kind, model::NameId name, model::NameId other) const noexcept {
        const auto found = find(kind, name, other);
        if (!found.empty() && found.front().count > 0) prefetch(found.front().actions);
    }
    const Bound& at(int binding) const noexcept { return bound_[places_[static_cast<std::size_t>(binding)]]; }

  private:
    struct Slot {
        std::uint64_t key = 0;
        int first = 0, count = 0; ///< count 0: empty
    };
    static std::uint64_t key(ReportKind kind, model::NameId name, model::NameId other) noexcept {
        static_assert(model::NameTable::capacity <= 1u << 28);
        if ((kind == ReportKind::contact || kind == ReportKind::contact_end) && name > other) std::swap(name, other);
        return static_cast<std::uint64_t>(kind) << 56 | static_cast<std::uint64_t>(name) << 28 | other;
    }
    /// What a pointer does to one zone has neighbouring slots, and is read together.
    std::size_t home_of(std::uint64_t key) const noexcept {
        constexpr int kind = 56;
        return (model::scatter(key & ((std::uint64_t{1} << kind) - 1)) + (key >> kind)) & (slots_.size() - 1);
    }
    /// Returns the slot of a key, or the free slot for it: open addressing, at most 4/5 full.
    std::size_t place_of(std::uint64_t key) const noexcept {
        std::size_t place = home_of(key);
        while (slots_[place].count > 0 && slots_[place].key != key) place = (place + 1) & (slots_.size() - 1);
        return place;
    }

    std::vector<Slot> slots_;
    std::vector<Bound> bound_;        ///< by key
    std::vector<std::size_t> places_; ///< in it, by number
};

} // namespace kiai::rules
