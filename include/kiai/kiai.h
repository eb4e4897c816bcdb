// All public headers of the runtime.
#pragma once

#include <kiai/builder.h>
#include <kiai/clip_source.h>
#include <kiai/decision.h>
#include <kiai/engine.h>
#include <kiai/facts.h>
#include <kiai/finding.h>
#include <kiai/insert.h>
#include <kiai/keys.h>
#include <kiai/levels.h>
#include <kiai/load.h>
#include <kiai/log.h>
#include <kiai/mix_file.h>
#include <kiai/name.h>
#include <kiai/open.h>
#include <kiai/play.h>
#include <kiai/project.h>
#include <kiai/reload.h>
#include <kiai/report.h>
#include <kiai/speaker.h>
#include <kiai/state.h>
#include <kiai/trace.h>
#include <kiai/units.h>
#include <kiai/version.h>
