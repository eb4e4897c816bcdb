// All of Kiai.
#pragma once

#include <kiai/add.h>
#include <kiai/catalogue.h>
#include <kiai/check.h>
#include <kiai/clip_source.h>
#include <kiai/credits.h>
#include <kiai/decision.h>
#include <kiai/edit.h>
#include <kiai/engine.h>
#include <kiai/even.h>
#include <kiai/facts.h>
#include <kiai/finding.h>
#include <kiai/keys.h>
#include <kiai/log.h>
#include <kiai/open.h>
#include <kiai/picture.h>
#include <kiai/play.h>
#include <kiai/project.h>
#include <kiai/rehearse.h>
#include <kiai/reload.h>
#include <kiai/report.h>
#include <kiai/speaker.h>
#include <kiai/summary.h>
#include <kiai/trace.h>
#include <kiai/units.h>
#include <kiai/version.h>
