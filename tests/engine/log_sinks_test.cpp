// Several log sinks of one engine.
#include "support/run_tool.h"

#include <kiai/engine.h>
#include <kiai/load.h>

#include <catch2/catch.hpp>

#include <stdexcept>

using namespace support;

TEST_CASE("A second log sink hears what the first hears, until its handle goes", "[control]") {
    kiai::Engine engine(kiai::load_project(demo()).project, {.seed = 1});
    std::vector<kiai::Outcome> first, second;
    engine.set_log([&](const kiai::Decision& decision) { first.push_back(decision.outcome); });
    auto handle = engine.add_log([&](const kiai::Decision& decision) { second.push_back(decision.outcome); });
    const auto throws = engine.add_log([](const kiai::Decision&) { throw std::runtime_error("no"); });
    engine.set_findings([](const kiai::Finding&) {});
    std::vector<float> out(1024);
    engine.key_tap("KeyT");
    engine.render(out), engine.poll();
    CHECK(first.size() >= 2);
    CHECK(first == second);
    handle = nullptr;
    engine.key_tap("KeyT");
    engine.render(out), engine.poll();
    CHECK(first.size() > second.size());
}
