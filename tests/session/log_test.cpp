// The decision log as it is written while an app runs.
#include "support/bench.h"
#include "support/text.h"

#include <kiai/log.h>

#include <catch2/catch.hpp>

#include <algorithm>
#include <sstream>

using support::binding;

namespace {

/// Writes two seconds of an app that makes some reports sixty times a second.
std::string written(const std::function<std::function<void(const kiai::Decision&)>(std::ostream&)>& sink) {
    std::ostringstream out;
    kiai::Engine engine(support::project_of(support::Signal(100, 0.1f), binding("notice = 'go'", "play = 'tone'")),
                        {.seed = 1});
    engine.set_log(sink(out));
    for (int frame = 0; frame < 120; ++frame) {
        engine.play("tome");
        engine.notice("gone");
        if (frame < 60) engine.notice("go");
        support::render(engine, 800);
        engine.poll();
    }
    engine.set_log({}); // the rest is written when the sink is destroyed
    return out.str();
}

} // namespace

TEST_CASE("What is decided again and again is written once a second, and counted", "[log]") {
    const auto lines = lines_of(written([](std::ostream& out) { return kiai::text_log(out); }));
    const auto with = [&](const std::string& part) {
        std::vector<std::string> found;
        std::copy_if(lines.begin(), lines.end(), std::back_inserter(found),
                     [&](const std::string& line) { return line.find(part) != std::string::npos; });
        return found;
    };
    const auto unknown = with("\"tome\"");
    REQUIRE(unknown.size() == 4); // one, fifty-nine more, one, fifty-nine more
    CHECK(unknown[0].starts_with("  0.000 s  play: "));
    CHECK(unknown[0].find("did you mean \"tone\"?") != std::string::npos);
    CHECK(unknown[1].starts_with("  1.000 s  … 59 more like: play: "));
    CHECK(unknown[2].starts_with("  1.000 s  play: "));
    CHECK(unknown[3].find("… 59 more like: ") != std::string::npos);
    CHECK(with("notice gone: ignored: no binding").size() == 4);
    const auto played = with("notice go: played tone #");
    REQUIRE(played.size() == 11); // ten of them, and how many more
    CHECK(played[10].starts_with("  1.000 s  … 50 more like: "));
}

TEST_CASE("In colour, mistakes are red and ends grey, lines for programs leave nothing out", "[log]") {
    const std::string colour = written([](std::ostream& out) { return kiai::text_log(out, {.colour = true}); });
    CHECK(colour.find("\x1b[31mplay: ") != std::string::npos);
    CHECK(colour.find("\x1b[90m  ended tone #1") != std::string::npos);
    CHECK(colour.find("\x1b[0m\n") != std::string::npos);
    const auto lines = lines_of(written([](std::ostream& out) { return kiai::jsonl_log(out); }));
    const auto unknown = std::count_if(lines.begin(), lines.end(), [](const std::string& line) {
        return line.find("\"decision\":\"unknown-name\"") != std::string::npos;
    });
    CHECK(unknown == 120);
    for (const std::string& line : lines) REQUIRE((line.front() == '{' && line.back() == '}'));
}
