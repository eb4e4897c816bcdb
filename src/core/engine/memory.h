// What an engine keeps of its decisions, so that it can be asked why something is silent.
#pragma once

#include <kiai/decision.h>

#include <cstdint>
#include <string>
#include <unordered_map>
#include <vector>

namespace kiai::engine {

/// The last decision of each kind about each binding, sound and name: it grows with the project, not with time.
/// [control]
class Memory {
  public:
    void take(const Decision& decision);
    /// In the order in which they came.
    std::vector<Decision> all() const;

  private:
    static constexpr std::size_t most = 20000; ///< an app may give ever new names
    /// What makes decisions one kind. Of ends what counts is the sound, how it ended and whether it was heard; not by
    /// what it began.
    struct Key {
        explicit Key(const Decision& decision);
        bool operator==(const Key&) const = default;

        Outcome outcome;
        ReportKind trigger = ReportKind::notice;
        EndReason reason;
        bool silent = false;
        int binding = 0;
        std::string on, action, sound;
    };
    struct Hash {
        std::size_t operator()(const Key& key) const noexcept;
    };
    struct Last {
        std::uint64_t place = 0; ///< among all that came
        Decision decision;
    };
    std::unordered_map<Key, Last, Hash> last_;
    std::uint64_t taken_ = 0;
};

} // namespace kiai::engine
