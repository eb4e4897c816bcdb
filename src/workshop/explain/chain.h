// Follows the chain from link to link.
#pragma once

#include "workshop/explain/evidence.h"
#include "workshop/rehearse/staging.h"

namespace kiai::workshop {

/// Explains a fired binding; `sound`: one of those that it plays.
Diagnosis why_of_binding(const Project& project, int binding, const Staged& staged, const Rehearsal& happened,
                         const std::string& sound = {});

/// The chain so far: it continues, or a link is broken.
class Chain {
  public:
    Chain(const Project& project, std::string about) : project_(project) { why_.subject = std::move(about); }

    bool broken() const noexcept { return !why_.heard(); }
    void hold(Link link, std::string detail = {});
    void tear(Link link, std::string detail, std::string fix, model::Source source = {});
    void tear(Link link, const Finding& finding);
    /// Adds all links from the trigger on, as far as the event came.
    void follow(const Came& came);
    Diagnosis take() { return std::move(why_); }

  private:
    const Project& project_;
    Diagnosis why_;
};

} // namespace kiai::workshop
