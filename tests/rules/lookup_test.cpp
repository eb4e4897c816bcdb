// Among thousands of bindings each report finds its own, in the order of kiai.toml, whatever else is bound.
#include "support/bench.h"
#include "support/sanitized.h"

#include <catch2/catch.hpp>

#include <algorithm>
#include <map>
#include <random>

using namespace support;
using kiai::Outcome;

namespace {

constexpr int kinds = sanitized ? 36 : 60, notices = sanitized ? 400 : 900;

std::string pair_of(int a, int b) {
    return "k" + std::to_string(std::min(a, b)) + "+k" + std::to_string(std::max(a, b));
}

} // namespace

TEST_CASE("Contacts, notices and keys find their bindings among thousands, and only theirs", "[lookup]") {
    std::mt19937 random(7);
    std::vector<std::string> entries;
    std::vector<std::string> reports; // what each entry waits for
    for (int a = 0; a < kinds; ++a)
        for (int b = a; b < kinds; ++b) {
            if ((a + b) % 3 == 0) continue; // unbound
            const bool turned = random() % 2 == 0;
            entries.push_back(binding("contact = [\"k" + std::to_string(turned ? b : a) + "\", \"k" +
                                          std::to_string(turned ? a : b) + "\"]",
                                      "nothing = true"));
            reports.push_back(pair_of(a, b));
        }
    for (int n = 0; n < notices; ++n)
        for (int times = 0; times <= n % 3; ++times) { // some have several
            entries.push_back(binding("notice = \"n" + std::to_string(n) + "\"", "nothing = true"));
            reports.push_back("n" + std::to_string(n));
        }
    for (const char* key : {"KeyA", "KeyZ"}) {
        entries.push_back(binding("key-down = \"" + std::string(key) + "\"", "nothing = true"));
        reports.push_back(key);
    }
    std::vector<std::size_t> order(entries.size());
    for (std::size_t i = 0; i < order.size(); ++i) order[i] = i;
    std::shuffle(order.begin(), order.end(), random);
    std::string toml;
    std::map<std::string, std::vector<int>> expected;
    for (std::size_t place = 0; place < order.size(); ++place) {
        toml += entries[order[place]];
        expected[reports[order[place]]].push_back(static_cast<int>(place) + 1);
    }
    REQUIRE(entries.size() > 1200); // more than the caches of a processor take

    Bench bench(toml);
    std::vector<int> given;
    const auto expect = [&](const std::string& report) {
        const std::vector<int>& own = expected[report];
        if (own.empty()) given.push_back(0);
        given.insert(given.end(), own.begin(), own.end());
    };
    for (int turn = 0; turn < 3000; ++turn) { // all in one block
        const int a = static_cast<int>(random() % kinds), b = static_cast<int>(random() % kinds);
        const int n = static_cast<int>(random() % (notices + 50)); // the last are unbound
        switch (turn % 3) {
        case 0:
            bench.engine.contact("k" + std::to_string(a), "k" + std::to_string(b));
            expect(pair_of(a, b));
            break;
        case 1:
            bench.engine.notice("n" + std::to_string(n));
            expect("n" + std::to_string(n));
            break;
        default:
            bench.engine.key_tap(turn % 2 == 0 ? "KeyA" : "KeyB");
            expect(turn % 2 == 0 ? "KeyA" : "KeyB");
        }
    }
    std::vector<int> found;
    for (const auto& decision : bench.everything(1)) {
        if (decision.trigger == kiai::ReportKind::key_up) continue;
        CHECK((decision.outcome == (decision.binding > 0 ? Outcome::done : Outcome::no_binding)));
        found.push_back(decision.binding);
    }
    CHECK((found == given));
}
