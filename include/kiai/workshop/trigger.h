// A trigger as text, as the log and `kiai list` print it: `press hopper`, `contact marble+oak`.
#pragma once

#include <kiai/decision.h>

#include <optional>
#include <string>
#include <string_view>

namespace kiai::inline v0 {

/// A trigger.
struct Trigger {
    ReportKind kind = ReportKind::press;
    std::string on;                            ///< see Decision::on; empty: any
    std::optional<Point> point = std::nullopt; ///< press: the position, in place of `on`
};

/// Reads `press hopper`, `press 118 82`, `key-down KeyT`, `contact marble oak`, `marker paddle+paddle`, `notice
/// run-complete`, `watch fill > 0.8`, `start`. Returns nothing for any other text. [any]
std::optional<Trigger> read_trigger(std::string_view text);
/// Returns the text that `read_trigger` reads. [any]
std::string to_string(const Trigger& trigger);
/// Returns true if the decision answers the trigger. The kinds of a contact match in either order; a press at a point
/// matches no decision. [any]
bool matches(const Trigger& trigger, const Decision& decision);

} // namespace kiai::inline v0
