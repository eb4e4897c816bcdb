// What a kiai_engine of the C face is.
#pragma once

#include "runtime/c/kept_lines.h"

#include <kiai/kiai.h>

#include <memory>
#include <optional>
#include <vector>

/// One engine, with or without a device.
struct kiai_engine {
    kiai_engine(kiai::LoadResult loaded, bool with_device, const kiai::EngineSettings& settings)
        : heard(with_device), findings(std::move(loaded.findings)) {
#ifdef KIAI_PLAYS
        if (heard) {
            session.emplace(std::move(loaded.project));
            return;
        }
#endif
        silent.emplace(std::move(loaded.project), settings);
        if (!heard) return;
        kiai::Finding& finding = findings.emplace_back();
        finding.code = kiai::FindingCode::no_device;
        finding.severity = kiai::usual_severity(finding.code);
        finding.message = "nothing is heard: this build of Kiai has no output";
        finding.fix = "use kiai_open_silent and kiai_render";
    }
    kiai::Engine& get() noexcept {
#ifdef KIAI_PLAYS
        if (session) return *session;
#endif
        return *silent;
    }
    const kiai::Engine& get() const noexcept {
        return const_cast<kiai_engine*>(this)->get();
    }

    bool heard; ///< the device renders, not the app
#ifdef KIAI_PLAYS
    std::optional<kiai::Session> session;
#endif
    std::optional<kiai::Engine> silent;
    std::vector<kiai::Finding> findings; ///< of the last loading
    std::shared_ptr<kiai::runtime::KeptLines> kept;
};
