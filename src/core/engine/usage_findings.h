// Finds doubtful use of an engine from its decisions.
#pragma once

#include "core/model/project.h"

#include <kiai/decision.h>
#include <kiai/finding.h>
#include <kiai/state.h>

#include <functional>
#include <map>
#include <set>
#include <string>
#include <string_view>
#include <unordered_map>
#include <utility>

namespace kiai::engine {

/// Reads every decision, and reports each doubt once. [control]
class UsageFindings {
  public:
    explicit UsageFindings(int rate) : rate_(rate) {}
    /// `project`: the project of the decision; `pointed`: a pointer was ever away from 0, 0.
    void take(const Decision& decision, const model::Project& project, bool pointed,
              const std::function<void(const Finding&)>& say);

    /// Checks how near the engine is to its limits. `live`: a device requests the blocks, so their time counts.
    /// [control]
    void look(const Load& load, bool live, const model::Project& project,
              const std::function<void(const Finding&)>& sink);

  private:
    using Name = std::pair<ReportKind, std::string>;
    /// How often something happens in a row.
    struct Row {
        std::uint64_t cause = 0;
        Frames first = 0, last = 0, step = 0;
        int count = 0, bursts = 0;
    };
    struct Heard {
        std::string what; ///< takes, pitch and gain of the last play
        Frames first = 0;
        int count = 0;
        bool ended = false; ///< any play of it was stopped
    };
    struct Begun {
        Frames frame = 0;
        bool by_watch = false; ///< it follows a state, which may change at once
    };

    static std::string call_of(const Decision& decision);
    void asked(const Decision& decision);
    void unended(const Decision& decision);
    void played(const Decision& decision);
    void ended(const Decision& decision);
    void stolen(const Decision& decision);
    void unanswered(const Decision& decision);
    void say(FindingCode code, const std::string& about, const std::string& message, const std::string& fix,
             model::Source source, bool of_app = false);
    const model::Sound* sound_named(const std::string& name) const;

    int rate_;
    const model::Project* project_ = nullptr;
    std::unordered_map<std::string_view, const model::Sound*> sounds_; ///< of that project
    bool pointed_ = false;
    const std::function<void(const Finding&)>* sink_ = nullptr;
    std::set<std::pair<FindingCode, std::string>> said_;
    std::map<Name, Row> asked_, turns_;
    std::map<std::string, Heard> heard_;
    std::map<std::uint32_t, Begun> begun_;                         ///< plays that have not ended
    std::map<std::uint64_t, std::pair<Frames, ReportKind>> stops_; ///< the latest causes that ended something
};

} // namespace kiai::engine
