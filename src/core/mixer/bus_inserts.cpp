#include "core/mixer/bus_inserts.h"

#include "core/dsp/math.h"
#include "core/model/guarded.h"

#include <algorithm>
#include <chrono>
#include <cmath>

namespace kiai::mixer {
namespace {

constexpr int in_a_row = 8;
constexpr double nearly = 0.5; ///< of the time that the frames last

bool finite(const float* samples, int frames) noexcept {
    float sum = 0; // of zeros, unless one of them is not finite
    for (int i = 0; i < frames; ++i) sum += samples[i] * 0;
    return sum == 0;
}

} // namespace

void BusInserts::set(int bus, std::shared_ptr<Insert> insert, Seconds tail) {
    if (bus < 0 || bus >= most_buses) return;
    auto entry = std::make_unique<Entry>();
    entry->tail = static_cast<Frames>(std::clamp(tail.count(), 0.0, 60.0) * rate_);
    entry->insert = std::move(insert);
    Slot* slot = at(bus);
    if (!slot) {
        all_slots_.push_back(std::make_unique<Slot>());
        slot = all_slots_.back().get();
        for (auto* sides : {slot->dry, slot->other})
            for (int side = 0; side < 2; ++side) sides[side].resize(static_cast<std::size_t>(most_frames_));
        slots_[static_cast<std::size_t>(bus)].store(slot, std::memory_order_release);
    }
    all_.push_back(std::move(entry));
    // `render` has not taken that insert out of the box, and never will.
    if (Entry* const unseen = slot->box.exchange(all_.back().get(), std::memory_order_acq_rel))
        unseen->done.store(true, std::memory_order_relaxed);
}

std::vector<std::shared_ptr<Insert>> BusInserts::take_unused() {
    std::vector<std::shared_ptr<Insert>> unused;
    std::erase_if(all_, [&](const auto& entry) {
        const bool done = entry->done.load(std::memory_order_acquire);
        if (done) unused.push_back(std::move(entry->insert));
        return done;
    });
    return unused;
}

bool BusInserts::needs(int bus, bool sounds) const noexcept {
    const Slot* const slot = at(bus);
    if (!slot) return false;
    if (slot->box.load(std::memory_order_relaxed) || slot->fade > 0) return true;
    return slot->current && slot->current->insert && (sounds || !slot->current->rests);
}

void BusInserts::bypass(Entry& entry, Fault fault, decisions::Record record, Journal& journal) noexcept {
    entry.off = true;
    entry.falls = fade_frames();
    for (int side = 0; side < 2; ++side) entry.step[side] = entry.wet[side] - entry.dry[side];
    record.outcome = Outcome::insert_off;
    record.clause = fault;
    journal.write(record);
}

/// Judges the time of a call, as a part of the time that its frames last.
void BusInserts::time(Entry& entry, double share, const decisions::Record& record, Journal& journal) noexcept {
    entry.nearly_slow = share > nearly ? entry.nearly_slow + 1 : 0;
    entry.slow = share > 1 ? entry.slow + 1 : 0;
    if (entry.nearly_slow >= in_a_row && !entry.warned) {
        entry.warned = true;
        decisions::Record slow = record;
        slow.outcome = Outcome::insert_slow;
        slow.value = static_cast<float>(share);
        journal.write(slow);
    }
    if (entry.slow >= in_a_row) bypass(entry, too_slow, record, journal);
}

/// Runs `sides` through an insert.
void BusInserts::run(Entry* entry, bool sounds, const Slot& slot, float* const sides[2], int frames,
                     decisions::Record record, Journal& journal) noexcept {
    if (!entry || !entry->insert) return;
    const auto count = static_cast<std::size_t>(frames);
    if (!entry->off) {
        const auto began = std::chrono::steady_clock::now();
        const auto call = [&] {
            if (entry->rests && sounds) entry->insert->reset();
            entry->rests = false;
            entry->insert->process({sides[0], count}, {sides[1], count});
            if (!finite(sides[0], frames) || !finite(sides[1], frames)) bypass(*entry, not_finite, record, journal);
        };
        model::guarded(call, [&](const char*) { bypass(*entry, threw, record, journal); });
        const std::chrono::duration<double> took = std::chrono::steady_clock::now() - began;
        for (int side = 0; side < 2 && !entry->off; ++side) {
            entry->dry[side] = slot.dry[side][count - 1];
            entry->wet[side] = sides[side][frames - 1];
        }
        if (!entry->off && live_.load(std::memory_order_relaxed))
            time(*entry, took.count() * rate_ / frames, record, journal);
        if (!entry->off) return;
        if (entry->slow >= in_a_row) return; // these frames are as it made them
    }
    for (int side = 0; side < 2; ++side) { // as it came in, without a step to it
        std::copy_n(slot.dry[side].data(), frames, sides[side]);
        for (int i = 0; i < std::min(frames, entry->falls); ++i)
            sides[side][i] += entry->step[side] *
                              static_cast<float>(dsp::fall(1 - static_cast<double>(entry->falls - i) / fade_frames()));
    }
    entry->falls = std::max(0, entry->falls - frames);
}

void BusInserts::process(int bus, bool sounds, float* left, float* right, int frames, Frames now,
                         Journal& journal) noexcept {
    if (frames == 0) return; // between two that are served at one frame
    Slot& slot = *at(bus);
    if (!slot.leaving && slot.box.load(std::memory_order_relaxed)) {
        slot.leaving = slot.current;
        slot.current = slot.box.exchange(nullptr, std::memory_order_acq_rel);
        slot.fade = fade_frames();
    }
    decisions::Record record;
    record.frame = now;
    record.limit = static_cast<std::int16_t>(bus + 1);
    std::copy_n(left, frames, slot.dry[0].data());
    std::copy_n(right, frames, slot.dry[1].data());
    float* const sides[2] = {left, right};
    run(slot.current, sounds, slot, sides, frames, record, journal);
    if (slot.fade > 0) { // from the one before, or from none
        float* const others[2] = {slot.other[0].data(), slot.other[1].data()};
        for (int side = 0; side < 2; ++side) std::copy_n(slot.dry[side].data(), frames, others[side]);
        run(slot.leaving, sounds, slot, others, frames, record, journal);
        for (int i = 0; i < frames; ++i) {
            const double to_go = dsp::fall(1 - static_cast<double>(std::max(0, slot.fade - i)) / fade_frames());
            for (int side = 0; side < 2; ++side)
                sides[side][i] += (others[side][i] - sides[side][i]) * static_cast<float>(to_go);
        }
        slot.fade = std::max(0, slot.fade - frames);
        if (slot.fade == 0 && slot.leaving) {
            slot.leaving->done.store(true, std::memory_order_release);
            slot.leaving = nullptr;
        }
    }
    if (!slot.current) return;
    slot.current->silent_for = sounds ? 0 : slot.current->silent_for + frames;
    if (slot.current->silent_for > slot.current->tail) slot.current->rests = true;
}

} // namespace kiai::mixer
