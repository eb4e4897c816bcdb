// Makes sequences of public calls, eight bytes each, and renders between them.
#include "support/storm.h"
#include "target.h"

#include <cmath>
#include <cstring>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    static const support::StormProject project;
    kiai::Engine engine(project.first(),
                        {.seed = 1, .voices = 24, .reports = 256, .streams = 2, .synchronous_streams = true});
    engine.set_log({});
    engine.set_findings({});
    std::vector<kiai::Play> plays;
    float block[2 * 200] = {};
    for (std::size_t at = 0; at + 8 <= size && at < 8 * 2000; at += 8) {
        std::uint64_t what = 0;
        std::memcpy(&what, data + at, 8);
        support::do_something(engine, what, plays);
        if (what % 251 == 0) engine.set_project(what % 2 == 0 ? project.second() : project.first());
        engine.render(std::span(block, 2 * ((what >> 32) % 200)));
        for (const float sample : block)
            if (!(std::abs(sample) <= 1)) std::abort();
        engine.poll();
    }
    engine.resume_scope("bench");
    engine.resume("knock");
    engine.wind_down(kiai::Seconds(0.01));
    for (int i = 0; i < 4000 && engine.sounding() + engine.waiting() > 0; ++i) engine.render(block);
    if (engine.sounding() != 0) std::abort();
    return 0;
}
