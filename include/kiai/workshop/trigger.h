// A trigger in words, as the log and `kiai list` write it: `press hopper`, `contact marble+oak`.
#pragma once

#include <kiai/decision.h>

#include <optional>
#include <string>
#include <string_view>

namespace kiai::inline v0 {

/// What happened, or is to happen.
struct Trigger {
    ReportKind kind = ReportKind::press;
    std::string on;                            ///< as Decision::on; empty: whatever it was
    std::optional<Point> point = std::nullopt; ///< of a press: where, instead of `on`
};

/// Reads `press hopper`, `press 118 82`, `key-down KeyT`, `contact marble oak`, `marker paddle+paddle`, `notice
/// run-complete`, `watch fill > 0.8`, `start`; empty where it is none. [any]
std::optional<Trigger> read_trigger(std::string_view text);
/// As it is read. [any]
std::string to_string(const Trigger& trigger);
/// It is what a decision answers; the kinds of a contact in either order. A trigger at a point matches none. [any]
bool matches(const Trigger& trigger, const Decision& decision);

} // namespace kiai::inline v0
