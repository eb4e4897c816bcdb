// Turns records into decisions, and numbers into names.
#pragma once

#include "core/engine/edition.h"
#include "core/mixer/journal.h"
#include "core/model/names.h"

#include <kiai/decision.h>

#include <string>

namespace kiai::engine {

class Translator {
  public:
    /// [control] All must outlive the object.
    Translator(const Editions& editions, const model::NameTable& names, mixer::Journal& journal, int rate) noexcept
        : editions_(editions), names_(names), journal_(journal), rate_(rate) {}

    /// Translates a record and the layers that follow it in the journal. [control]
    Decision translate(const decisions::Record& record);
    /// Returns the project that the current records are about. [control]
    const model::Project& told() const noexcept { return editions_.read().plan.project(); }

  private:
    LimitReached limit_of(const decisions::Record& record) const;
    std::string nearest(const Decision& decision) const;

    const Editions& editions_;
    const model::NameTable& names_;
    mixer::Journal& journal_;
    int rate_;
};

} // namespace kiai::engine
