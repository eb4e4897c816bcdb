// All public headers of the workshop.
#pragma once

#include <kiai/kiai.h>
#include <kiai/workshop/add.h>
#include <kiai/workshop/audible.h>
#include <kiai/workshop/bind.h>
#include <kiai/workshop/catalogue.h>
#include <kiai/workshop/check.h>
#include <kiai/workshop/code.h>
#include <kiai/workshop/convert.h>
#include <kiai/workshop/credits.h>
#include <kiai/workshop/differences.h>
#include <kiai/workshop/edit.h>
#include <kiai/workshop/even.h>
#include <kiai/workshop/expect.h>
#include <kiai/workshop/facts.h>
#include <kiai/workshop/fire.h>
#include <kiai/workshop/log.h>
#include <kiai/workshop/names.h>
#include <kiai/workshop/pack.h>
#include <kiai/workshop/picture.h>
#include <kiai/workshop/rehearse.h>
#include <kiai/workshop/simulate.h>
#include <kiai/workshop/summary.h>
#include <kiai/workshop/trace.h>
#include <kiai/workshop/trigger.h>
#include <kiai/workshop/why.h>
