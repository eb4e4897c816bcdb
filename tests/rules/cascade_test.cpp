// The consequences of one frame are limited, so that an endless cascade does not block `render`.
#include "support/bench.h"

#include <catch2/catch.hpp>

using namespace support;
using kiai::Outcome;

namespace {

std::size_t done_at_once(const std::string& text, Bench& bench) {
    static_cast<void>(text);
    bench.engine.notice("n");
    bench.decided(64);
    return bench.log.size();
}

} // namespace

TEST_CASE("Notices and sequences that multiply themselves are cancelled, and the log says so once", "[cascade]") {
    const std::string cases[] = {
        binding("notice = \"n\"", "notice = \"n\""),
        "[[binding]]\ntrigger = { notice = \"n\" }\naction = [{ notice = \"n\" }, { notice = \"n\" }, { notice = "
        "\"n\" }]\n",
        "[sequence.q]\nsteps = [{ run = \"q\" }, { run = \"q\" }]\n" + binding("notice = \"n\"", "run = \"q\""),
        "[sequence.q]\nsteps = [{ notice = \"n\" }, { run = \"q\" }, { notice = \"n\" }]\n" +
            binding("notice = \"n\"", "run = \"q\""),
    };
    for (const std::string& text : cases) {
        INFO(text);
        Bench bench(text);
        CHECK(done_at_once(text, bench) < 40000);
        CHECK(with_outcome(bench.log, Outcome::too_deep).size() == 1);
        bench.engine.play("tone"); // and it still works
        CHECK(bench.told(64).find("played tone") != std::string::npos);
    }
}

TEST_CASE("Ten thousand notices in a frame that each cause another are all served", "[cascade]") {
    Bench bench(binding("notice = \"n\"", "notice = \"m\"") + binding("notice = \"m\"", "nothing = true"));
    for (int i = 0; i < 10000; ++i) bench.engine.notice("n");
    std::size_t answered = 0;
    for (const auto& decision : bench.decided(64)) answered += decision.on == "m" ? 1 : 0;
    CHECK(answered == 10000);
    CHECK(with_outcome(bench.log, Outcome::too_deep).empty());
}
