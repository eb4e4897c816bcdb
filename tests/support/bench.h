// An engine with a small project, and its decisions.
#pragma once

#include "support/project_folder.h"

#include <kiai/engine.h>

#include <string>
#include <vector>

namespace support {

/// A sound that plays until it is stopped.
inline const std::string hum = "[sound.hum]\ntakes = [\"tone\"]\nloop = true\nlimit = { plays = 100 }\n";

struct Bench {
    /// One clip `tone` of `samples`, and `text`.
    explicit Bench(const std::string& text, const Signal& samples = Signal(1000, 0.1f))
        : engine(project_of(samples, text), {.seed = 1, .reports = 16384}) {
        engine.set_log([this](const kiai::Decision& decision) { log.push_back(decision); });
    }
    /// Returns the decisions of the next frames, except ends.
    std::vector<kiai::Decision> decided(kiai::Frames frames = 10) {
        auto all = everything(frames);
        std::erase_if(all, [](const kiai::Decision& decision) { return decision.outcome == kiai::Outcome::ended; });
        return all;
    }
    std::vector<kiai::Decision> everything(kiai::Frames frames = 10) {
        log.clear();
        heard = render(engine, frames);
        engine.poll();
        return log;
    }
    /// The same in short: `played tone`, `not-met`, one word for each decision, with the sound if there is one.
    std::string told(kiai::Frames frames = 10) {
        std::string text;
        for (const kiai::Decision& decision : decided(frames))
            text += (text.empty() ? "" : ", ") + std::string(to_string(decision.outcome)) +
                    (decision.sound.empty() ? "" : " " + decision.sound);
        return text;
    }

    kiai::Engine engine;
    std::vector<kiai::Decision> log;
    std::vector<float> heard; ///< by the last call
};

/// Returns a binding as kiai.toml writes it.
inline std::string binding(const std::string& trigger, const std::string& action, const std::string& more = {}) {
    return "[[binding]]\ntrigger = { " + trigger + " }\naction = { " + action + " }\n" + more + "\n";
}

} // namespace support
