// Changes of kiai.toml that a page sends.
#include "page/tried.h"

#include <catch2/catch.hpp>

#include <cctype>
#include <thread>

using namespace support;
using nlohmann::json;
using namespace std::chrono_literals;

namespace {

/// As a browser writes a value in an address.
std::string encoded(const std::string& value) {
    std::string text;
    char two[4];
    for (const char c : value) {
        std::snprintf(two, sizeof two, "%%%02X", static_cast<unsigned>(static_cast<unsigned char>(c)));
        text += std::isalnum(static_cast<unsigned char>(c)) ? std::string(1, c) : std::string(two);
    }
    return text;
}

/// The page of the demo with editing, as a page in a browser uses it.
struct Changed : Tried {
    kiai::TryPage page{bench, {.seed = 1, .edit = true}};
    const std::string url = page.url();
    std::string text = get(url + "project").json().at("text");

    std::string toml() const { return read("bench/kiai.toml"); }
    Reply send(const std::string& path, const std::string& query, const std::string& body) {
        Reply reply = post(url + path + "?text=" + text + query, body);
        if (reply.status == 200) text = reply.json().at("text");
        return reply;
    }
    Reply set(const std::string& place, const std::string& value) {
        return send("edit", "&value=" + encoded(value), place);
    }
};

} // namespace

TEST_CASE("A change on the page edits kiai.toml in place, is heard, and is undone", "[page][speaker]") {
    Changed changed;
    const std::string before = changed.toml();
    const Reply reply = changed.set("sound\nbrush\npitch", "7");
    REQUIRE(reply.status == 200);
    CHECK(reply.json().at("changes")[0].at("after") == "pitch = 7");
    CHECK(reply.json().at("steps") == 1);
    CHECK(changed.toml().size() == before.size() + std::string("pitch = 7\n").size());
    bool heard = false;
    for (int i = 0; i < 40 && !heard; ++i) { // the files are watched
        std::this_thread::sleep_for(100ms);
        post(changed.url + "fire?binding=8");
        post(changed.url + "fire?binding=8&end=1");
        heard = decided(
            changed.url,
            [](const json& decision) {
                return decision.at("decision") == "played" && decision.value("sound", "") == "brush" &&
                       decision.at("layers")[0].at("pitch").get<double>() > 4;
            },
            0.3);
    }
    CHECK(heard);
    REQUIRE(changed.set("sound\noak\nvary\ngain", "[-1, 4]").status == 200);
    REQUIRE(changed.set("zone\ntray\nrectangle", "{ x = 200, y = 500, width = 240, height = 50 }").status == 200);
    REQUIRE(changed.send("bind", "", "press funnel play glass").status == 200);
    CHECK(changed.toml().find("press = \"glass\"") != std::string::npos);
    REQUIRE(changed.set("zone\nknob\ncircle", "{ x = 10, y = 20, r = 5 }").status == 200);
    CHECK(changed.toml().find("[zone.knob]\ncircle = { x = 10, y = 20, r = 5 }") != std::string::npos);
    REQUIRE(changed.send("remove", "&name=knob", "").status == 200);
    CHECK(changed.toml().find("knob") == std::string::npos);
    REQUIRE(changed.send("unbind", "", "3").status == 200);
    CHECK(changed.toml().find("# ") != std::string::npos);
    for (int i = 0; i < 7; ++i) REQUIRE(changed.send("undo", "", "").status == 200);
    CHECK(changed.toml() == before);
    CHECK(changed.send("undo", "", "").status == 409);
}

TEST_CASE("A change for another text of kiai.toml is refused, and nothing is lost", "[page][speaker]") {
    Changed changed;
    const std::string before = changed.toml(), by_hand = "# written by hand\n" + before;
    changed.write("bench/kiai.toml", by_hand);
    const Reply conflict = changed.set("sound\noak\ngain", "-3");
    CHECK(conflict.status == 409);
    CHECK(conflict.json().at("message").get<std::string>().find("has changed on disk") != std::string::npos);
    CHECK(changed.toml() == by_hand);
    std::string text = changed.text;
    for (int i = 0; i < 60 && text == changed.text; ++i) {
        std::this_thread::sleep_for(50ms);
        text = get(changed.url + "project").json().at("text");
    }
    changed.text = text;
    CHECK(changed.set("sound\noak\ngain", "-3").status == 200);
    CHECK(changed.toml().starts_with("# written by hand\n"));
    changed.write("bench/kiai.toml", changed.toml() + "# more\n");
    CHECK(changed.send("undo", "", "").status == 409);
    CHECK(changed.toml().ends_with("# more\n"));
}

TEST_CASE("A wrong value is refused with its reason, and kiai.toml stays as it was", "[page][speaker]") {
    Changed changed;
    const std::string before = changed.toml();
    const std::pair<const char*, const char*> wrong[] = {{"sound\noak\ngain", "30"},
                                                         {"sound\noak\ngain", "loud"},
                                                         {"sound\noak\ngian", "3"},
                                                         {"sound\noak\nbus", "\"nowhere\""},
                                                         {"sound\noak\ngain", "1\n[sound.more]"},
                                                         {"sound\noak\ngain", "1 #"},
                                                         {"zone\ntray\nrectangle", "{ x = 1 }"},
                                                         {"gain", "1"},
                                                         {"", "1"},
                                                         {"sound\noak\nfollow\n9\ncurve", "[[0, 0], [1, 1]]"},
                                                         {"zone\nA%20B\ncircle", "{ x = 1, y = 2, r = 3 }"}};
    for (const auto& [place, value] : wrong) {
        INFO(place << " = " << value);
        const Reply reply = changed.set(place, value);
        CHECK(reply.status == 400);
        CHECK_FALSE(reply.json().at("message").get<std::string>().empty());
        CHECK(changed.toml() == before);
    }
    for (const char* words : {"press nowhere play oak", "jump hopper play oak", "press"})
        CHECK(changed.send("bind", "", words).status == 400);
    CHECK(changed.send("remove", "&name=hopper", "").status == 400); // a binding needs it
    CHECK(changed.toml() == before);
}

TEST_CASE("Without editing the page writes nothing", "[page][speaker]") {
    const Tried tried;
    const kiai::TryPage page(tried.bench);
    const std::string before = tried.read("bench/kiai.toml");
    CHECK_FALSE(get(page.url() + "project").json().contains("toml"));
    for (const char* path : {"edit?value=1", "bind", "unbind", "remove?name=tray", "undo"})
        CHECK(post(page.url() + path, "sound\noak\ngain").status == 404);
    CHECK(tried.read("bench/kiai.toml") == before);
}
