// Plays the reports of a trace on a project from a pack, and prints digests of what was decided and rendered:
//   kiai_port_run run.txt marble-run.kiai [OTHER.kiai]
// With a second pack, the project changes back and forth every second.
#include "played.h"

#include <kiai/engine.h>
#include <kiai/load.h>

#include <cstdio>
#include <cstdlib>
#include <fstream>
#include <string>
#include <vector>

namespace {

struct Lines {
    int rate = 0;
    std::uint64_t seed = 0;
    std::vector<std::pair<kiai::Frames, kiai::Report>> all;
};

/// Reads numbers that no library may round.
double number(std::istream& in) {
    std::string word;
    in >> word;
    return std::strtod(word.c_str(), nullptr);
}

std::string name(std::istream& in) {
    std::string word;
    in >> word;
    return word == "-" ? std::string() : word;
}

kiai::Report report_of(std::istream& in) {
    kiai::Report report;
    const auto real = [&] { return static_cast<float>(number(in)); };
    int kind = 0, target = 0, has_moment = 0;
    in >> kind;
    report.kind = static_cast<kiai::ReportKind>(kind);
    report.name = name(in);
    report.other = name(in);
    report.bus = name(in);
    for (float* const member : {&report.point.x, &report.point.y, &report.size.x, &report.size.y, &report.value})
        *member = real();
    in >> report.pointer >> report.pair >> target;
    report.target = static_cast<kiai::ActionTarget>(target);
    report.fade = kiai::Seconds(number(in));
    in >> has_moment;
    const double moment = number(in);
    if (has_moment != 0) report.moment = kiai::Seconds(moment);
    report.over = kiai::Seconds(number(in));
    report.options.gain = real();
    report.options.pitch = real();
    report.options.strength = real();
    report.options.place = real();
    std::size_t values = 0;
    in >> values;
    for (std::size_t v = 0; v < values; ++v) {
        kiai::NamedValue& value = report.values.emplace_back();
        value.name = name(in);
        value.value = real();
    }
    return report;
}

Lines read(const char* file) {
    std::ifstream in(file);
    Lines lines;
    std::size_t count = 0;
    in >> lines.rate >> lines.seed >> count;
    for (std::size_t i = 0; i < count && in; ++i) {
        kiai::Frames frame = 0;
        in >> frame;
        lines.all.emplace_back(frame, report_of(in));
    }
    if (!in) lines.all.clear();
    return lines;
}

ports::Played play(const std::vector<kiai::Project>& projects, const Lines& lines, bool portable) {
    ports::Played run;
    kiai::Engine engine(
        projects[0],
        {.sample_rate = lines.rate, .seed = lines.seed, .synchronous_streams = true, .portable_kernels = portable});
    engine.set_findings([](const kiai::Finding&) {});
    engine.set_log([&](const kiai::Decision& decision) { run.add(decision); });
    constexpr kiai::Frames block = 800; // a frame of an app
    const kiai::Frames end = lines.all.back().first + 2 * lines.rate;
    std::size_t next = 0;
    for (kiai::Frames frame = 0; frame < end; frame += block) {
        for (; next < lines.all.size() && lines.all[next].first < frame + block; ++next)
            engine.report(lines.all[next].second, lines.all[next].first);
        const auto second = static_cast<std::size_t>(frame / lines.rate);
        if (projects.size() > 1 && frame % lines.rate == 0) engine.set_project(projects[second % 2]);
        run.samples.resize(run.samples.size() + 2 * block);
        engine.render(std::span(run.samples).last(2 * block));
        engine.poll();
    }
    return run;
}

} // namespace

int main(int count, char** words) {
    if (count < 3) return 2;
    const Lines lines = read(words[1]);
    if (lines.all.empty()) return 1;
    std::vector<kiai::Project> projects;
    for (int i = 2; i < count; ++i) {
        const kiai::LoadResult loaded = kiai::load_project(words[i]);
        for (const kiai::Finding& finding : loaded.findings)
            if (finding.severity == kiai::Severity::error) std::fprintf(stderr, "%s\n", to_string(finding).c_str());
        if (!loaded.ok()) return 1;
        projects.push_back(loaded.project);
    }
    return ports::compare(play(projects, lines, true), play(projects, lines, false));
}
