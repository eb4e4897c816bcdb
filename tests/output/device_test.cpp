// A real sound server plays what the engine rendered.
#include "support/places.h"
#include "support/project_folder.h"
#include "support/recorded.h"
#include "support/run_tool.h"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>
#include <sstream>

using namespace support;

TEST_CASE("A sound server that is killed and comes back is heard again, and time continues meanwhile", "[device]") {
    const Folder folder;
    const Ran ran = run("'" + source_folder() + "/tests/output/with-restarted-server' '" + folder.path().string() +
                        "' '" + build_folder() + "/bin/kiai_tests' 'A hum that lasts'");
    INFO(ran.out << ran.err);
    REQUIRE(ran.status == 0);
    std::istringstream story(folder.read("story"));
    std::vector<std::pair<std::string, long>> detail;
    for (std::string word, at; story >> word >> at;) detail.emplace_back(word, 0), story >> detail.back().second;
    // The recording starts silent while the device is opened.
    while (!detail.empty() && detail.front().first == "silent") detail.erase(detail.begin());
    REQUIRE(detail.size() >= 3);
    CHECK(detail[1].first == "silent");
    CHECK(detail[2].first == "playing");
    CHECK(detail[2].second - detail[1].second > 4800); // rendered in step with time while there was no server
    const std::vector<float> samples = recorded(folder.path());
    CHECK(peak(samples) == Approx(0.5).epsilon(0.02));
}

TEST_CASE("A device that starts too slowly is left, and the next attempt is heard", "[device]") {
    const char* const hidden = GENERATE("", "KIAI_HIDE_TIMEOUT=1 ");
    const Folder folder;
    const Ran ran = run("'" + source_folder() + "/tests/output/with-sound-server' '" + folder.path().string() +
                        "' env " + hidden + "LD_PRELOAD='" + build_folder() + "/bin/kiai_slow_start.so' '" +
                        build_folder() + "/bin/kiai_tests' 'A hum after a slow start'");
    INFO(ran.out << ran.err);
    REQUIRE(ran.status == 0);
    CHECK(peak(recorded(folder.path())) == Approx(0.5).epsilon(0.02));
}

TEST_CASE("What a sound server records of a live run is the rehearsal of its trace", "[device]") {
    // On a busy machine the device may be late and leave gaps, so the test looks for short parts of the rehearsal, and
    // tries more than once.
    constexpr std::size_t length = 240;
    std::size_t found = 0, parts = 10;
    for (int attempt = 0; attempt < 5 && found < parts * 9 / 10; ++attempt) {
        const Folder server;
        const Ran ran = run("KIAI_OUT='" + server.path().string() + "' '" + source_folder() +
                            "/tests/output/with-sound-server' '" + server.path().string() + "' '" + build_folder() +
                            "/bin/kiai_tests' 'A run of marbles that is recorded'");
        INFO(ran.out << ran.err);
        REQUIRE(ran.status == 0);
        const std::vector<float> samples = recorded(server.path());
        const kiai::LoadedTrace trace = kiai::load_trace(server.path() / "run.jsonl");
        REQUIRE(trace.trace.lines.size() > 15);
        const kiai::Rehearsal rehearsal = kiai::rehearse(kiai::load_project(demo()).project, trace.trace);
        std::size_t here = 0, all = 0;
        for (const int which : {0, 1}) {
            const Signal heard = side(samples, which), meant = side(rehearsal.samples, which);
            std::ptrdiff_t before = -1;
            for (std::size_t at = 0; at + length <= meant.size(); at += 10 * length) {
                if (rms(meant, at, at + length) < 0.01) continue; // too quiet to be distinguished
                ++all;
                const std::ptrdiff_t place = find_part(heard, meant.data() + at, length);
                if (place < 0) continue;
                CHECK(place > before); // in order, none twice
                before = place;
                ++here;
            }
        }
        UNSCOPED_INFO("attempt " << attempt + 1 << ": " << here << " of " << all << " parts");
        REQUIRE(all > 20);
        found = here, parts = all;
    }
    CHECK(found >= parts / 2);
}

TEST_CASE("The device is the last link that why asks, and another output fixes it", "[device]") {
    const Folder server;
    const Ran ran = run("'" + source_folder() + "/tests/output/with-sound-server' '" + server.path().string() + "' '" +
                        build_folder() + "/bin/kiai_tests' 'A sound that is asked about*'");
    INFO(ran.out << ran.err);
    CHECK(ran.status == 0);
    const std::vector<float> samples = recorded(server.path());
    CHECK(peak(samples) == Approx(0.3).epsilon(0.02));
}

TEST_CASE("hear on a terminal plays to the device, and fades out when it is interrupted", "[device]") {
    // On a busy machine the device may leave a gap at the fade, so the test tries more than once.
    bool fades = false;
    for (int attempt = 0; attempt < 5 && !fades; ++attempt) {
        const Folder server;
        const std::string folder = "'" + server.path().string() + "'";
        const Ran ran = run("'" + source_folder() + "/tests/output/with-sound-server' " + folder + " '" +
                            source_folder() + "/tests/output/interrupt-once-heard' " + folder + " '" + tested_tool() +
                            " hear " + demo().string() + " lift --loop 60'");
        INFO(ran.out << ran.err << server.read("terminal"));
        REQUIRE(ran.status == 0);
        const std::vector<float> samples = recorded(server.path());
        const Signal left = side(samples, 0);
        const auto heard = [](float sample) { return sample != 0; };
        const auto first = std::find_if(left.begin(), left.end(), heard);
        const auto last = std::find_if(left.rbegin(), left.rend(), heard).base();
        REQUIRE(first < last);
        CHECK(last - first < 30 * 48000); // of sixty seconds
        CHECK(server.read("terminal").find("played lift") != std::string::npos);
        const auto end = static_cast<std::size_t>(last - left.begin());
        REQUIRE(end > 9600);
        const double before = rms(left, end - 9600, end - 7200), at_last = rms(left, end - 1200, end); // of 200 ms
        UNSCOPED_INFO("attempt " << attempt + 1 << ": " << before << " falls to " << at_last);
        fades = at_last < 0.1 * before;
    }
    CHECK(fades);
}

TEST_CASE("The two lines are heard: what a sound server records is the clip", "[device]") {
    REQUIRE(run("pulseaudio --version && parec --version").status == 0);
    const Folder folder;
    folder.write("marble-run/kiai.toml",
                 "format = 1\n[clip]\nnoise = \"noise.wav\"\n[zone.hopper]\ncircle = { x = 120, y = 80, r = 40 }\n"
                 "[[binding]]\ntrigger = { press = \"hopper\" }\naction = { play = \"noise\" }\n");
    const Signal clip = noise(0.3, 40000, 8);
    folder.write_wav("marble-run/noise.wav", clip);
    // On a busy machine the device may be late and leave gaps, so the test looks for short parts of the clip, and tries
    // more than once.
    constexpr std::size_t length = 240, parts = 40000 / length;
    std::size_t most = 0;
    bool begins = false, ends = false;
    for (int attempt = 0; attempt < 5 && !(most >= parts / 2 && begins && ends); ++attempt) {
        const Folder server;
        const Ran ran = run("'" + source_folder() + "/tests/output/with-sound-server' '" + server.path().string() +
                                "' '" + build_folder() + "/bin/two-lines'",
                            folder.path());
        INFO(ran.out << ran.err);
        REQUIRE(ran.status == 0);
        const std::vector<float> samples = recorded(server.path());
        const Signal left = side(samples, 0), right = side(samples, 1);
        CHECK(peak(left) <= peak(clip) * 1.001);
        std::ptrdiff_t before = -1;
        std::size_t found = 0;
        for (std::size_t part = 0; part < parts; ++part) {
            const std::ptrdiff_t at = find_part(left, clip.data() + part * length, length);
            if (at < 0) continue;
            CHECK(at > before); // in order, none twice
            CHECK(std::equal(left.begin() + at, left.begin() + at + length, right.begin() + at));
            before = at;
            begins = begins || part == 0;
            ends = ends || part == parts - 1;
            ++found;
        }
        most = std::max(most, found);
        UNSCOPED_INFO("attempt " << attempt + 1 << ": " << found << " of " << parts << " parts");
    }
    CHECK(most >= parts / 4);
    CHECK(begins); // from its first frames
    CHECK(ends);   // to its last
}

TEST_CASE("Each call is heard once, and placed calls are all as late as each other", "[device]") {
    // On a busy machine a block may be late, so the test tries more than once.
    bool even = false;
    for (int attempt = 0; attempt < 4 && !even; ++attempt) {
        const Folder server;
        const Ran ran =
            run("'" + source_folder() + "/tests/output/with-sound-server' '" + server.path().string() + "' '" +
                    build_folder() + "/bin/kiai_bench_latency' --calls 12 --block 512 --json latency.json",
                server.path());
        INFO(ran.out << ran.err);
        REQUIRE(ran.status == 0);
        const auto rows = nlohmann::json::parse(server.read("latency.json"));
        REQUIRE(rows.size() == 2);
        even = true;
        for (const auto& row : rows) {
            const auto served = row["served"].get<std::vector<double>>(),
                       recorded = row["recorded"].get<std::vector<double>>();
            UNSCOPED_INFO("attempt " << attempt + 1 << ": " << recorded.size() << " of 12 heard");
            even = even && recorded.size() >= 10 && recorded.front() > served.front(); // heard after it was served
        }
        const auto late = rows[1]["recorded"].get<std::vector<double>>(); // placed; a block is 10.7 ms
        for (const double one : late) UNSCOPED_INFO("attempt " << attempt + 1 << ": " << 1000 * one << " ms");
        even = even && std::count_if(late.begin(), late.end(),
                                     [&](double one) { return std::abs(one - late[late.size() / 2]) < 0.0015; }) >= 9;
    }
    CHECK(even);
}
