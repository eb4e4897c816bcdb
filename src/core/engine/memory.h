// Keeps decisions, so that the engine can be asked why something is silent.
#pragma once

#include <kiai/decision.h>

#include <cstdint>
#include <string>
#include <unordered_map>
#include <vector>

namespace kiai::engine {

/// The last decision of each kind about each binding, sound and name. Its size depends on the project, not on time.
/// [control]
class Memory {
  public:
    void take(const Decision& decision);
    /// Returns the decisions in their order.
    std::vector<Decision> all() const;

  private:
    static constexpr std::size_t most = 20000; ///< an app may give ever new names
    /// Decisions with equal keys are of one kind. For an end the key contains the sound, the reason and whether the
    /// play was heard, but not its trigger.
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
