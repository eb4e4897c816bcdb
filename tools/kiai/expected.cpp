#include "expected.h"

#include "command.h"

#include <kiai/workshop/picture.h>

#include <fmt/format.h>

#include <algorithm>
#include <iostream>

namespace kiai::tool {

bool Judged::good() const noexcept {
    return readable && std::all_of(met.begin(), met.end(), [](const ExpectationResult& one) { return one.holds; });
}

Judged judge(const Rehearsal& rehearsal, const std::string& file) {
    Judged judged;
    const LoadedExpectations loaded = load_expectations(file);
    judged.readable = say_findings(loaded.findings);
    for (const Expectation& expectation : loaded.expectations) judged.met.push_back(meets(rehearsal, expectation));
    return judged;
}

void print_judged(const Judged& judged, const std::string& file) {
    std::size_t failed = 0;
    for (const ExpectationResult& met : judged.met) {
        failed += met.holds ? 0 : 1;
        std::cout << (met.holds ? fmt::format("{}  {} ({})\n", paint("met   ", 32), met.expected, met.happened)
                                : fmt::format("{}  {}:{}: expected: {}; happened: {}\n", paint("FAILED", 31), file,
                                              met.line, met.expected, met.happened));
    }
    std::cout << fmt::format("{}: {} met, {} failed\n", counted(judged.met.size(), "expectation"),
                             judged.met.size() - failed, failed);
}

bool draw_pieces(const Rehearsal& rehearsal, const Judged& judged, const std::string& folder) {
    std::error_code error;
    std::filesystem::create_directories(folder, error);
    for (const ExpectationResult& met : judged.met) {
        if (met.holds) continue;
        const auto file = std::filesystem::path(folder) / fmt::format("line-{}.png", met.line);
        const auto seconds = [&](Frames frames) {
            return Seconds(static_cast<double>(frames) / rehearsal.sample_rate);
        };
        PictureSettings picture;
        picture.title = "expected: " + met.expected;
        picture.note = "happened: " + met.happened;
        picture.from = seconds(met.from);
        picture.to = seconds(std::max(met.to, met.from + 1));
        if (const std::string reason = draw_rehearsal(file, rehearsal, picture); !reason.empty()) {
            say_error(reason);
            return false;
        }
        std::cerr << "wrote " << file.string() << '\n';
    }
    return true;
}

} // namespace kiai::tool
