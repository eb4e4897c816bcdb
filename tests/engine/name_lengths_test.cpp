// Names of any length keep their texts: short ones are also kept as copies, whose lengths share a byte with their
// state.
#include <kiai/engine.h>
#include <kiai/project.h>

#include <catch2/catch.hpp>

#include <set>
#include <string>
#include <vector>

TEST_CASE("Reported names of all lengths, many of them alike, come back as they were", "[names]") {
    kiai::Engine engine(kiai::Project(), {.seed = 1});
    std::vector<std::string> given, heard;
    for (const std::size_t length : {1u, 2u, 22u, 23u, 24u, 63u, 253u, 254u, 255u, 256u, 300u})
        for (const char last : {'a', 'b', 'c'}) given.push_back(std::string(length - 1, 'x') + last);
    for (int i = 0; i < 2000; ++i) given.push_back("n" + std::to_string(i)); // several for each bucket
    engine.set_findings({});
    engine.set_log([&](const kiai::Decision& decision) { heard.push_back(decision.on); });
    std::vector<float> block(2);
    for (int turn = 0; turn < 2; ++turn) {
        heard.clear();
        for (const std::string& name : given) {
            engine.notice(name);
            engine.render(block);
            engine.poll();
        }
        CHECK((heard == given));
    }
    CHECK(std::set<std::string>(heard.begin(), heard.end()).size() == given.size());
}
