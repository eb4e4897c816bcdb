// What a page shows besides decisions: timers, ducking, values of triggers, and the last recording.
#include "support/places.h"

#include "page/tried.h"

#include <catch2/catch.hpp>

#include <kiai/workshop/expect.h>
#include <kiai/workshop/rehearse.h>

#include <thread>

using namespace support;
using nlohmann::json;
using namespace std::chrono_literals;

TEST_CASE("Timers, ducking and the device are part of the state", "[page][speaker]") {
    const ProjectFolder folder(
        "[clip]\ntone = \"tone.wav\"\n[bus.music]\nduck = { under = \"speech\", gain = -9 }\n[bus.speech]\n"
        "[sound.hum]\ntakes = [\"tone\"]\nbus = \"music\"\n[sound.word]\ntakes = [\"tone\"]\nloop = true\nbus = "
        "\"speech\"\n"
        "[[binding]]\ntrigger = { every = \"100 s\" }\naction = { play = \"hum\" }\n"
        "[[binding]]\ntrigger = { notice = \"said\" }\nwhen = \"loud > 0.5\"\naction = { play = \"word\" }\n");
    folder.write_wav("tone.wav", Signal(9600, 0.1f));
    const kiai::TryPage page(folder.path(), {.seed = 1});
    const std::string url = page.url();
    const json project = get(url + "project").json();
    CHECK(project.at("bindings")[0].at("by_hand") == false);
    CHECK(project.at("bindings")[1].at("values") == json::array({"loud"}));
    const auto shows = [&](const auto& test) { return read_events(url + "events", 10, test); };
    CHECK(shows([](const json& event) {
        const json& timers = event.at("state").at("timers");
        return timers.size() == 1 && timers[0].at("binding") == 1 && timers[0].at("left") > 80 &&
               timers[0].at("left") <= 100;
    }));
    CHECK(shows([](const json& event) { return event.at("ducked").empty() && event.at("late").is_number(); }));

    CHECK(post(url + "fire?binding=2&value-loud=0.2").status == 200);
    CHECK(decided(url, [](const json& decision) { return decision.at("decision") == "not-met"; }));
    CHECK(post(url + "fire?binding=2&value-loud=0.8").status == 200);
    CHECK(decided(url, [](const json& decision) { return decision.at("decision") == "played"; }));
    CHECK(shows([](const json& event) {
        return event.at("ducked") == json{{"music", {{"under", "speech"}, {"by", -9.0}}}};
    }));
    CHECK(post(url + "report", "{\"at\":0,\"stop\":\"word\"}").status == 200);
    CHECK(shows([](const json& event) { return event.at("ducked").empty(); }));
}

TEST_CASE("What the last recording shows is expected by a click, and its rehearsal is drawn", "[page][speaker]") {
    const Tried tried;
    const kiai::TryPage page(tried.bench, {.seed = 7});
    const std::string url = page.url();
    CHECK(get(url + "recording").status == 409);
    CHECK(get(url + "recording.png").status == 404);
    REQUIRE(post(url + "record?on=1").status == 200);
    const char* const reports[] = {"{\"at\":0,\"press\":[118,82]}\n{\"at\":0.05,\"release\":true}",
                                   "{\"at\":0,\"key-down\":\"KeyT\"}", "{\"at\":0,\"scope-enter\":\"drawer\"}",
                                   "{\"at\":0,\"contact\":[\"marble\",\"glass\"],\"strength\":0.8}"};
    for (const char* lines : reports) {
        REQUIRE(post(url + "report", lines).status == 200);
        std::this_thread::sleep_for(150ms);
    }
    std::this_thread::sleep_for(1s);
    REQUIRE(post(url + "record?on=0").status == 200);

    const json shown = get(url + "recording").json();
    CHECK(shown.at("file") == "traces/by-hand-1.jsonl");
    const json& statements = shown.at("expectations");
    const auto number = [&](const std::string& statement) {
        for (std::size_t i = 0; i < statements.size(); ++i)
            if (statements[i] == statement) return static_cast<int>(i) + 1;
        FAIL(statement << " is not in " << statements.dump());
        return 0;
    };
    const Reply picture = get(url + "recording.png");
    CHECK(picture.status == 200);
    CHECK(picture.body.substr(1, 3) == "PNG");
    CHECK(picture.body.size() > 10000);

    const int heard = number("hopper is heard within 20 ms of press hopper");
    CHECK(post(url + "expect?number=" + std::to_string(heard)).json().at("count") == 1);
    CHECK(post(url + "expect?number=" + std::to_string(heard)).json().at("count") == 1); // once is enough
    const int other = number("glass is heard within 20 ms of contact marble+glass");
    CHECK(post(url + "expect?number=" + std::to_string(other)).json().at("count") == 2);
    CHECK(post(url + "expect?number=0").status == 400);
    CHECK(post(url + "expect?number=99999999999999999999").status == 400);
    CHECK(post(url + "expect").status == 400);

    const std::string in = "cd '" + tried.bench.string() + "' && '" + tested_tool() +
                           "' rehearse . "
                           "traces/by-hand-1.jsonl --expect traces/by-hand-1.expect.toml";
    const Ran met = run(in);
    INFO(met.out << met.err);
    CHECK(met.status == 0);
    CHECK(met.out.find("hopper is heard within 20 ms of press hopper") != std::string::npos);
    // They can fail: without its binding nothing answers the press.
    std::string toml = tried.read("bench/kiai.toml");
    const std::string was = "press = \"hopper\"";
    REQUIRE(toml.find(was) != std::string::npos);
    while (toml.find(was) != std::string::npos) toml.replace(toml.find(was), was.size(), "press = \"lamp\"");
    tried.write("bench/kiai.toml", toml);
    CHECK(run(in).status == 1);
}

TEST_CASE("Without a right to report there is no recording", "[page][speaker]") {
    kiai::Engine engine(kiai::load_project(demo()).project, {.seed = 1});
    const kiai::Page page(engine);
    for (const char* path : {"recording", "recording.png"}) CHECK(get(page.url() + path).status == 404);
    CHECK(post(page.url() + "expect?number=1").status == 403);
}
