// A project on a page: each trigger by hand, recorded, changed on the disk, explained.
#include "page/tried.h"

#include <catch2/catch.hpp>

#include <kiai/workshop/rehearse.h>
#include <kiai/workshop/trace.h>

#include <map>
#include <sstream>
#include <thread>
#include <tuple>

using namespace support;
using nlohmann::json;
using namespace std::chrono_literals;

TEST_CASE("Each binding of the demo happens by hand", "[page][speaker]") {
    const Tried tried;
    const kiai::TryPage page(tried.bench, {.seed = 1});
    const std::string url = page.url();
    const json project = get(url + "project").json();
    REQUIRE(project.at("bindings").size() == 24);
    for (const json& binding : project.at("bindings")) {
        const int number = binding.at("number").get<int>();
        INFO(binding.dump());
        CHECK(binding.at("by_hand") == true);
        REQUIRE(post(url + "fire?binding=" + std::to_string(number)).status == 200);
        CHECK(decided(url, [&](const json& decision) { return decision.value("binding", 0) == number; }));
        CHECK(post(url + "fire?binding=" + std::to_string(number) + "&end=1").status == 200);
    }
    // What is held ends with its trigger.
    CHECK(decided(url, [](const json& decision) {
        return decision.value("sound", "") == "lift" && decision.at("decision") == "ended";
    }));
}

TEST_CASE("A second time works as the first", "[page][speaker]") {
    const Tried tried;
    const kiai::TryPage page(tried.bench, {.seed = 1});
    const std::string url = page.url();
    for (const int number : {1, 12, 17, 7}) // a press, a contact, a watch, a hold
        for (int time = 1; time <= 3; ++time) {
            REQUIRE(post(url + "fire?binding=" + std::to_string(number) + "&strength=0.8").status == 200);
            std::this_thread::sleep_for(250ms);
            post(url + "fire?binding=" + std::to_string(number) + "&end=1");
            std::this_thread::sleep_for(100ms);
        }
    std::map<int, int> played;
    CHECK(decided(url, [&](const json& decision) {
        if (decision.at("decision") == "played") ++played[decision.value("binding", 0)];
        return played[1] >= 3 && played[12] >= 3 && played[17] >= 1 && played[7] >= 3;
    }));
    CHECK(played[1] == 3);
    CHECK(played[12] == 3);
    CHECK(played[7] == 3); // 17 plays once at a time
}

TEST_CASE("What was done by hand is recorded, and its rehearsal decides the same", "[page][speaker]") {
    const Tried tried;
    const kiai::TryPage page(tried.bench, {.seed = 7});
    const std::string url = page.url();
    REQUIRE(post(url + "record?on=1").status == 200);
    const char* const reports[] = {
        "{\"at\":0,\"pointer\":[118,82]}\n{\"at\":0,\"press\":[118,82]}\n{\"at\":0.05,\"release\":true}",
        "{\"at\":0,\"key-down\":\"KeyT\"}",
        "{\"at\":0,\"key-up\":\"KeyT\"}",
        "{\"at\":0,\"dial\":{\"fill\":0.9}}",
        "{\"at\":0,\"contact\":[\"marble\",\"glass\"],\"strength\":0.4}",
        "{\"at\":0,\"scope-enter\":\"drawer\"}",
        "{\"at\":0,\"notice\":\"tray-emptied\"}",
        "{\"at\":0,\"play\":\"oak\"}"};
    for (const char* lines : reports) {
        REQUIRE(post(url + "report", lines).status == 200);
        std::this_thread::sleep_for(120ms);
    }
    std::this_thread::sleep_for(1500ms);
    const Reply stopped = post(url + "record?on=0");
    REQUIRE(stopped.status == 200);
    CHECK(stopped.json().at("file") == "traces/by-hand-1.jsonl");

    using Play = std::tuple<std::string, std::string, std::string>;
    std::vector<Play> live, again;
    const kiai::LoadResult loaded = kiai::load_project(tried.bench);
    const kiai::LoadedTrace trace = kiai::load_trace(tried.bench / "traces/by-hand-1.jsonl");
    REQUIRE(trace.ok());
    const kiai::Rehearsal rehearsal = kiai::rehearse(loaded.project, trace.trace);
    std::ostringstream log;
    kiai::write_log(log, rehearsal);
    std::istringstream lines(log.str());
    for (std::string line; std::getline(lines, line);) {
        const json decision = json::parse(line);
        if (decision.value("decision", "") == "played")
            again.emplace_back(decision.at("trigger"), decision.at("sound"), decision.at("layers").dump());
    }
    REQUIRE(again.size() >= 6);
    read_events(url + "events", 15, [&](const json& event) {
        for (const json& decision : event.at("decisions"))
            if (decision.at("decision") == "played")
                live.emplace_back(decision.at("trigger"), decision.at("sound"), decision.at("layers").dump());
        return live.size() >= again.size();
    });
    CHECK(live == again);
    // Another recording does not replace the first.
    post(url + "record?on=1");
    CHECK(post(url + "record?on=0").json().at("file") == "traces/by-hand-2.jsonl");
}

TEST_CASE("A change of kiai.toml is heard at the next trigger, and an error is shown while the old project plays",
          "[page][speaker]") {
    const Tried tried;
    const kiai::TryPage page(tried.bench, {.seed = 1});
    const std::string url = page.url();
    const std::string before = tried.read("bench/kiai.toml");
    const auto revision = get(url + "project").json().at("revision").get<int>();
    const auto next_revision = [&](int than) {
        int found = 0;
        CHECK(read_events(url + "events", 8,
                          [&](const json& event) { return (found = event.at("revision").get<int>()) > than; }));
        return found;
    };
    std::string changed = before;
    changed.replace(changed.find("[sound.brush]"), 13, "[sound.brush]\npitch = 7");
    tried.write("bench/kiai.toml", changed);
    next_revision(revision);
    REQUIRE(post(url + "fire?binding=8").status == 200);
    CHECK(decided(url, [](const json& decision) {
        return decision.at("decision") == "played" && decision.value("sound", "") == "brush" &&
               decision.at("layers")[0].at("pitch").get<double>() > 4;
    }));
    tried.write("bench/kiai.toml", before + "\n[sound.nothing]\ntakes = [\"missing\"]\n");
    bool shown = false;
    for (int i = 0; i < 100 && !shown; ++i) {
        std::this_thread::sleep_for(50ms);
        const json findings = get(url + "project").json().at("findings");
        for (const json& finding : findings)
            shown = shown || finding.at("message").get<std::string>().find("missing") != std::string::npos;
    }
    CHECK(shown);
    CHECK(post(url + "fire?binding=3").status == 200);
    CHECK(decided(url, [](const json& decision) { return decision.value("binding", 0) == 3; }));
}

TEST_CASE("Why something is silent is answered from what happened on the page", "[page][speaker]") {
    const Tried tried;
    const kiai::TryPage page(tried.bench, {.seed = 1});
    const std::string url = page.url();
    const json unheard = get(url + "why?about=press%20hopper").json();
    CHECK(unheard.at("heard") == false);
    CHECK(unheard.at("chain").back().at("link") == "triggered");
    post(url + "fire?binding=1");
    CHECK(decided(url, [](const json& decision) {
        return decision.value("sound", "") == "hopper" && decision.at("decision") == "ended";
    }));
    CHECK(get(url + "why?about=press%20hopper").json().at("heard") == true);
    post(url + "report", "{\"at\":0,\"dial\":{\"hopper-stock\":0}}\n{\"at\":0.05,\"press\":[118,82]}");
    CHECK(decided(url, [](const json& decision) { return decision.at("decision") == "not-met"; }));
}

TEST_CASE("Waveforms, tables and levels are those of the project", "[page][speaker]") {
    const Tried tried;
    const kiai::TryPage page(tried.bench);
    const std::string url = page.url();
    const json clip = get(url + "clip?name=motor").json();
    CHECK(clip.at("columns").size() == 240);
    CHECK(clip.at("seconds") == 2.3);
    CHECK(get(url + "clip?name=motor").json() == clip);
    const json project = get(url + "project").json();
    CHECK(project.at("name") == "marble-run");
    std::map<std::string, int> kinds;
    for (const json& entry : project.at("entries")) ++kinds[entry.at("kind").get<std::string>()];
    CHECK(kinds["clip"] == 42);
    CHECK(kinds["binding"] == 24);
    CHECK(project.at("zones").size() == 10);
    CHECK(project.at("zones").front().at("name") == "bench"); // from back to front
    post(url + "fire?binding=7");
    CHECK(read_events(url + "events", 4, [](const json& event) {
        const json& buses = event.at("state").at("buses");
        return buses.size() == 3 && buses[0].at("peak").get<double>() > 0.05 && !event.at("levels").empty() &&
               event.at("state").at("plays").size() == 1;
    }));
}

TEST_CASE("A trigger that was released before it was due ends after it", "[page][speaker]") {
    const Tried tried;
    const kiai::TryPage page(tried.bench, {.seed = 1});
    const std::string url = page.url();
    // The scope is off, so the page enters it, and the press comes a tenth of a second later.
    REQUIRE(post(url + "report", "{\"at\":0,\"scope-leave\":\"bench\"}").status == 200);
    CHECK(decided(url, [](const json& decision) { return decision.value("trigger", "") == "scope-leave"; }));
    REQUIRE(post(url + "fire?binding=7").status == 200);
    REQUIRE(post(url + "fire?binding=7&end=1").status == 200);
    CHECK(decided(url, [](const json& decision) {
        return decision.at("decision") == "ended" && decision.value("sound", "") == "lift";
    }));
}
