// Writes the reports of a trace as lines of plain words, for systems without the workshop's libraries:
//   kiai_port_reports run.jsonl >run.txt
#include <kiai/workshop/trace.h>

#include <cstdio>
#include <string>

namespace {

/// No name of a report has a space, and an empty one must not vanish.
std::string word(const std::string& name) {
    return name.empty() ? "-" : name;
}

} // namespace

int main(int count, char** words) {
    if (count != 2) return 2;
    const kiai::LoadedTrace read = kiai::load_trace(words[1]);
    if (!read.ok()) return 1;
    std::printf("%d %llu %zu\n", read.trace.sample_rate, static_cast<unsigned long long>(read.trace.seed.value_or(1)),
                read.trace.lines.size());
    for (const kiai::TraceLine& line : read.trace.lines) {
        const kiai::Report& report = line.report;
        const kiai::PlayOptions& options = report.options;
        std::printf("%lld %d %s %s %s %a %a %a %a %a %llu %llu %d %a %d %a %a %a %a %a %a",
                    static_cast<long long>(line.due(read.trace.sample_rate)), static_cast<int>(report.kind),
                    word(report.name).c_str(), word(report.other).c_str(), word(report.bus).c_str(),
                    static_cast<double>(report.point.x), static_cast<double>(report.point.y),
                    static_cast<double>(report.size.x), static_cast<double>(report.size.y),
                    static_cast<double>(report.value), static_cast<unsigned long long>(report.pointer),
                    static_cast<unsigned long long>(report.pair), static_cast<int>(report.target), report.fade.count(),
                    report.moment ? 1 : 0, report.moment ? report.moment->count() : 0.0, report.over.count(),
                    static_cast<double>(options.gain), static_cast<double>(options.pitch),
                    static_cast<double>(options.strength), static_cast<double>(options.place));
        std::printf(" %zu", report.values.size());
        for (const kiai::NamedValue& value : report.values)
            std::printf(" %s %a", word(value.name).c_str(), static_cast<double>(value.value));
        std::printf("\n");
    }
    return 0;
}
