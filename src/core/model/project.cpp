#include "core/model/project.h"

#include "core/model/scope_clips.h"

#include <kiai/project.h>

namespace kiai::inline v0 {

Project::Project() : data_(std::make_shared<model::Project>()) {}

Project::Project(std::shared_ptr<const model::Project> data) : data_(std::move(data)) {
    if (!data_) data_ = std::make_shared<model::Project>();
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
