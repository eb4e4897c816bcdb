#include "core/model/project.h"

#include "core/model/scope_clips.h"

#include <kiai/project.h>

#include <algorithm>

namespace kiai::inline v0 {

Project::Project() : data_(std::make_shared<model::Project>()) {}

Project::Project(std::shared_ptr<const model::Project> data) : data_(std::move(data)) {
    if (!data_) data_ = std::make_shared<model::Project>();
}

bool NameList::has(std::string_view name) const noexcept {
    return std::find(begin(), end(), name) != end();
}

namespace {

/// Returns the names of the entries for which `listed` is true.
template<class Entries, class Test>
NameList names_of(const Entries& entries, const Test& listed) {
    NameList names;
    for (const auto& entry : entries)
        if (listed(entry)) names.push_back(entry.name);
    return names;
}

template<class Entries>
NameList names_of(const Entries& entries) {
    return names_of(entries, [](const auto&) { return true; });
}

} // namespace

NameList Project::sounds() const {
    return names_of(data_->sounds, [](const model::Sound& sound) { return !sound.implied; });
}

NameList Project::clips() const {
    return names_of(data_->clips);
}

NameList Project::buses() const {
    return names_of(data_->buses);
}

NameList Project::dials() const {
    return names_of(data_->dials);
}

NameList Project::scopes() const {
    return names_of(data_->scopes);
}

NameList Project::zones() const {
    return names_of(data_->zones);
}

NameList Project::motions() const {
    return names_of(data_->motions);
}

NameList Project::sequences() const {
    return names_of(data_->sequences);
}

std::size_t Project::memory() const noexcept {
    std::size_t bytes = 0;
    for (const model::Clip& clip : data_->clips) bytes += clip.bytes();
    return bytes;
}

std::size_t Project::memory(std::string_view scope) const {
    const auto scopes = model::scopes_of_clips(*data_);
    std::size_t bytes = 0;
    for (std::size_t c = 0; c < scopes.size(); ++c)
        if (scopes[c].size() == 1 && *scopes[c].begin() >= 0 &&
            data_->scopes[static_cast<std::size_t>(*scopes[c].begin())].name == scope)
            bytes += data_->clips[c].bytes();
    return bytes;
}

const std::string& Project::fingerprint() const noexcept {
    return data_->fingerprint;
}

const std::string& Project::name() const noexcept {
    return data_->name;
}

} // namespace kiai::inline v0
