#include "core/engine/edition.h"

#include "core/model/align.h"

#include <algorithm>

namespace kiai::engine {
namespace {

std::shared_ptr<const model::Project> aligned(const Project& given, const Edition* before) {
    if (!before) return given.shared();
    return std::make_shared<const model::Project>(model::align(given.data(), before->plan.project()));
}

} // namespace

Edition::Edition(Project project, const Edition* before, model::NameTable& names, const mixer::CoreSettings& settings)
    : given(std::move(project)), plan(aligned(given, before), names, settings.rate, settings.kernels()),
      router(plan, names, settings), fingerprint(names.add(given.fingerprint())) {
    if (!before) return;
    plan.come_after(before->plan);
    change.emplace(before->plan, plan);
    tables.emplace(plan, mixer::Plays::most_plays(settings.voices));
}

Editions::Editions(Project first, model::NameTable& names, const mixer::CoreSettings& settings)
    : names_(names), settings_(settings) {
    all_.push_back(std::make_unique<Edition>(std::move(first), nullptr, names, settings));
    read_ = all_.back().get();
    playing_ = read_;
}

void Editions::write_to(mixer::Journal& journal) noexcept {
    journal_ = &journal;
    now_playing().router.write_to(journal);
}

std::unique_ptr<Edition> Editions::build(Project project, const Edition& before) const {
    auto next = std::make_unique<Edition>(std::move(project), &before, names_, settings_);
    next->router.write_to(*journal_);
    return next;
}

void Editions::append(std::unique_ptr<Edition> next) {
    Edition* last = all_.back().get();
    all_.push_back(std::move(next));
    last->next.store(all_.back().get(), std::memory_order_release);
}

void Editions::read_on(std::uint64_t count) noexcept {
    for (; count > 0; --count) read_ = read_->next.load(std::memory_order_acquire);
}

void Editions::let_go() {
    // Voices that started under earlier editions may still play their clips.
    const auto read = std::find_if(all_.begin(), all_.end(), [&](const auto& one) { return one.get() == read_; });
    const auto kept = std::remove_if(
        all_.begin(), read, [](const auto& one) { return one->plan.users().load(std::memory_order_acquire) == 0; });
    all_.erase(kept, read);
}

bool Editions::begin_block(mixer::Plays& plays, Frames now) noexcept {
    bool changed = false;
    for (Edition* before = &now_playing(); Edition* next = before->next.load(std::memory_order_acquire);) {
        changed = true;
        const decisions::Record record = before->router.make_way(*next->change, next->fingerprint, plays, now);
        journal_->mark(record);
        plays.change(*next->change, *next->tables, record, now);
        next->router.go_on_from(before->router, *next->change, plays, now);
        playing_.store(next, std::memory_order_release);
        before->plan.users().fetch_sub(1, std::memory_order_release);
        before = next;
    }
    return changed;
}

} // namespace kiai::engine
