// Traces: what a line may contain, and what is reported for an invalid line.
#include "support/project_folder.h"

#include <catch2/catch.hpp>

using namespace support;

namespace {

kiai::LoadedTrace trace_of(const std::string& text) {
    const Folder folder;
    folder.write("t.jsonl", text);
    return kiai::load_trace(folder.path() / "t.jsonl");
}

} // namespace

TEST_CASE("A trace is read line by line, and served by time", "[trace]") {
    const auto loaded = trace_of(
        "{\"trace\": 1, \"rate\": 44100, \"seed\": 18446744073709551615}\n"
        "{\"at\": 2.5, \"notice\": \"late\"}\n\n"
        "{\"at\": 0.00001, \"press\": [118, -82.5], \"pointer-id\": 3}\n"
        "{\"frame\": 7, \"contact\": [\"marble\", \"oak\"], \"strength\": 0.7, \"place\": -0.2}\r\n"
        "{\"at\": 1, \"key-down\": \"Space\"}\n{\"at\": 1.1, \"key-up\": \"Space\"}\n{\"at\": 1.2, \"release\": 0}\n"
        "{\"at\": 1.3, \"play\": \"oak\", \"gain\": -3, \"pitch\": 2, \"pan\": 1}\n{\"at\": 1.4, \"stop\": \"oak\"}");
    REQUIRE(loaded.findings.empty());
    const kiai::Trace& trace = loaded.trace;
    CHECK(trace.sample_rate == 44100);
    CHECK(trace.seed == 18446744073709551615u);
    REQUIRE(trace.lines.size() == 8);
    CHECK(trace.lines[0].report.kind == kiai::ReportKind::press);
    CHECK(trace.lines[0].report.point.y == -82.5f);
    CHECK(trace.lines[0].report.pointer == 3);
    CHECK(trace.lines[0].due(44100) == 0); // 0.441 frames
    CHECK(trace.lines[1].due(44100) == 7);
    CHECK(trace.lines[1].report.other == "oak");
    CHECK(trace.lines[1].report.options.strength == 0.7f);
    CHECK(trace.lines[5].report.options.gain == -3.0f);
    CHECK(trace.lines[7].due(44100) == 110250);
}

TEST_CASE("A line that is none is a finding at its line, and the rest is served", "[trace]") {
    const std::pair<const char*, const char*> lines[] = {
        {"{\"at\": 1, \"notice\": \"n\"", "not valid JSON"},
        {"[1, 2]", "not a JSON object"},
        {"{\"notice\": \"n\"}", "missing time"},
        {"{\"at\": \"1\", \"notice\": \"n\"}", "`at` is not a number"},
        {"{\"at\": -1, \"notice\": \"n\"}", "out of range"},
        {"{\"at\": 1, \"pres\": [1, 2]}", "unknown report `pres`"},
        {"{\"at\": 1}", "no report"},
        {"{\"at\": 1, \"press\": [1]}", "not a position"},
        {"{\"at\": 1, \"notice\": 5}", "not a name"},
        {"{\"at\": 1, \"contact\": [\"a\"]}", "two kinds"},
        {"{\"at\": 1, \"notice\": \"n\", \"key-down\": \"Space\"}", "two reports"},
        {"{\"trace\": 2}", "unsupported version"},
        {"{\"trace\": 1, \"rate\": 7}", "unsupported `rate`"},
        {"{\"trace\": 1, \"seed\": -4}", "not a whole number"},
        {"{\"frame\": 1e300, \"notice\": \"n\"}", "out of range"},
        {"{\"at\": 1e400, \"notice\": \"n\"}", "not valid JSON"},
        {"\xff\xfe{", "not valid JSON"},
    };
    for (const auto& [line, says] : lines) {
        const auto loaded = trace_of("{\"at\": 0, \"notice\": \"before\"}\n" + std::string(line) +
                                     "\n{\"at\": 3, \"notice\": \"after\"}\n");
        INFO(line);
        REQUIRE(loaded.findings.size() == 1);
        CHECK(loaded.findings[0].code == kiai::FindingCode::trace_line);
        CHECK(loaded.findings[0].line == 2);
        CHECK(loaded.findings[0].message.find(says) != std::string::npos);
        CHECK_FALSE(loaded.findings[0].fix.empty());
        CHECK(loaded.trace.lines.size() == 2);
    }
    CHECK(kiai::load_trace("/nowhere/at/all.jsonl").findings.at(0).code == kiai::FindingCode::no_trace);
}

TEST_CASE("A rehearsal is as long as its last line and its last sound", "[trace]") {
    const kiai::Project project =
        project_of(Signal(4800, 0.1f), "[sound.hum]\ntakes = [\"tone\"]\nloop = true\n[[binding]]\ntrigger = { notice "
                                       "= \"n\" }\naction = { play = \"hum\" }\n");
    CHECK(kiai::rehearse(project, trace_of("{\"at\": 1, \"notice\": \"nobody\"}").trace).length == 48000);
    CHECK(kiai::rehearse(project, trace_of("{\"at\": 1, \"play\": \"tone\"}").trace).length == 48000 + 4800);
    CHECK(kiai::rehearse(project, {}).length == 0);
    const kiai::Rehearsal endless =
        kiai::rehearse(project, trace_of("{\"at\": 1, \"notice\": \"n\"}").trace, {.tail = kiai::Seconds(0.5)});
    CHECK(endless.endless == std::vector<std::string>{"hum"});
    CHECK(endless.length == 48000 + 24000 + 1 + 9600); // the tail, then a fade of 0.2 s
    CHECK(endless.samples.size() == static_cast<std::size_t>(endless.length) * 2);
    CHECK(kiai::rehearse(project, trace_of("{\"at\": 1, \"notice\": \"n\"}\n{\"at\": 2, \"stop\": \"hum\"}").trace)
              .endless.empty());
}

TEST_CASE("A rehearsal is the same at any block, and its seed is the trace's unless another is given", "[trace]") {
    const kiai::Project project =
        project_of(noise(0.3, 4800, 1), "[sound.s]\ntakes = [\"tone\"]\nvary = { pitch = 5 }\nloop = true\n");
    const kiai::Trace trace =
        trace_of("{\"trace\": 1, \"seed\": 5}\n{\"at\": 0.1, \"play\": \"s\"}\n{\"at\": 0.15, \"play\": \"s\"}").trace;
    const kiai::Rehearsal reference = kiai::rehearse(project, trace);
    CHECK(reference.seed == 5);
    for (const int block : {1, 100, 65536})
        CHECK(kiai::rehearse(project, trace, {.block = block}).samples == reference.samples);
    CHECK(kiai::rehearse(project, trace, {.seed = 6}).samples != reference.samples);
}
