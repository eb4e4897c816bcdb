// What an engine keeps of its decisions, so that it can be asked why something is silent.
#pragma once

#include <kiai/decision.h>

#include <map>
#include <string>
#include <tuple>
#include <vector>

namespace kiai::engine {

/// The last decision of each kind about each binding, sound and name: it grows with the project, not with time.
/// [control]
class Memory {
  public:
    void take(const Decision& decision);
    /// In the order of their frames.
    std::vector<Decision> all() const;

  private:
    static constexpr std::size_t most = 20000; ///< an app may give ever new names
    using Key = std::tuple<int, int, std::string, std::string, int, std::string, int, bool>;
    std::map<Key, Decision> last_;
};

} // namespace kiai::engine
