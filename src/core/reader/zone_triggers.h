// The triggers that may be bound inside a zone, as `press = "hopper"`.
#pragma once

#include <kiai/report.h>

#include <utility>

namespace kiai::reader {

/// The keys of a zone with their triggers, in the order in which the bindings are numbered.
inline constexpr std::pair<const char*, ReportKind> zone_triggers[] = {{"press", ReportKind::press},
                                                                       {"release", ReportKind::release},
                                                                       {"enter", ReportKind::enter},
                                                                       {"leave", ReportKind::leave}};

} // namespace kiai::reader
