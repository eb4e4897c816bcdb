#include "outputs.h"

#include "claim.h"
#include "command.h"
#include "table.h"

#include <kiai/log.h>
#include <kiai/workshop/log.h>
#include <kiai/workshop/picture.h>
#include <kiai/workshop/summary.h>

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <fstream>
#include <iostream>
#include <sstream>

namespace kiai::tool {
namespace {

bool report(const std::string& error, const std::string& path) {
    if (error.empty())
        std::cerr << "wrote " << path << '\n';
    else
        say_error(error + "; choose a place that can be written");
    return error.empty();
}

std::string save_text(const std::string& path, const std::string& text) {
    std::ofstream out(path, std::ios::binary);
    out << text;
    return out.flush() ? std::string() : path + ": cannot be written";
}

std::string save_log(const Rehearsal& rehearsal, const std::string& path) {
    std::ostringstream text;
    write_log(text, rehearsal);
    return save_text(path, text.str());
}

/// Returns the samples between `from` and `to`.
std::vector<float> part_of(const Rehearsal& rehearsal, const Outputs& outputs) {
    const auto frames = rehearsal.samples.size() / 2;
    const auto at = [&](double seconds) {
        return std::min(frames, static_cast<std::size_t>(seconds * rehearsal.sample_rate + 0.5));
    };
    const std::size_t from = at(outputs.from), to = outputs.to > 0 ? at(outputs.to) : frames;
    return {rehearsal.samples.begin() + static_cast<std::ptrdiff_t>(2 * from),
            rehearsal.samples.begin() + static_cast<std::ptrdiff_t>(2 * std::max(from, to))};
}

std::string range(double from, double to, const char* unit) {
    return from == to ? fmt::format("{:+.1f} {}", from, unit) : fmt::format("{:+.1f} … {:+.1f} {}", from, to, unit);
}

} // namespace

void add_sound_output(Command& command, Outputs& outputs) {
    command.option("-o,--out", outputs.sound, "FILE", "Write the sound: .wav, stereo").completes(Completes::file);
    command.option("--bits", outputs.bits, "BITS", "Sample format of the sound; 32 is float, 16 is dithered")
        .shows_default()
        .one_of({"16", "24", "32"});
}

bool write_sound(const Rehearsal& rehearsal, const Outputs& outputs) {
    return outputs.sound.empty() ||
           report(write_wav(outputs.sound, part_of(rehearsal, outputs), rehearsal.sample_rate, outputs.bits),
                  outputs.sound);
}

std::string save_own_trace(const std::string& path, const Trace& trace) {
    std::ostringstream text;
    write_trace(text, trace);
    std::string lines = text.str();
    lines.insert(1, std::string(trace_mark) + ",");
    return save_text(path, lines);
}

bool write_picture(const std::string& error, const Outputs& outputs) {
    return report(error, outputs.picture);
}

bool write_outputs(const Rehearsal& rehearsal, const Outputs& outputs) {
    const bool sound = write_sound(rehearsal, outputs);
    const bool log = outputs.log.empty() || report(save_log(rehearsal, outputs.log), outputs.log);
    const bool picture =
        outputs.picture.empty() ||
        write_picture(
            draw_rehearsal(outputs.picture, rehearsal,
                           {.title = outputs.title, .from = Seconds(outputs.from), .to = Seconds(outputs.to)}),
            outputs);
    return sound && log && picture;
}

void print_log(const Rehearsal& rehearsal) {
    const auto say = text_log(std::cout, {.sample_rate = rehearsal.sample_rate, .every = true, .colour = colourful()});
    for (const Decision& decision : rehearsal.decisions) say(decision);
}

static std::string decibels(float linear, const char* unit) {
    return linear > 1e-10f ? fmt::format("{:.1f} {}", 20 * std::log10(linear), unit) : "-";
}

static std::string lufs(float loudness) {
    return loudness > -200 ? fmt::format("{:.1f} LUFS", loudness) : "-";
}

static void print_buses(const Rehearsal& rehearsal) {
    if (rehearsal.buses.empty()) return;
    std::cout << '\n';
    Table table({"bus", "peak", "true peak", "loudest 400 ms", "loudest 3 s", "limiter"});
    for (const auto& [bus, level] : rehearsal.buses)
        table.add({bus, decibels(level.peak, "dBFS"), decibels(level.true_peak, "dBTP"), lufs(level.momentary),
                   lufs(level.short_term), level.reduction > 0 ? fmt::format("-{:.1f} dB", level.reduction) : ""});
    table.print();
}

void print_summary(const Rehearsal& rehearsal) {
    const Summary summary = summarise(rehearsal);
    std::cout << fmt::format("{:.2f} s, seed {}, {}, {} of them unanswered\n",
                             static_cast<double>(rehearsal.length) / rehearsal.sample_rate, rehearsal.seed,
                             counted(static_cast<std::size_t>(summary.triggers), "trigger"), summary.unanswered);
    if (summary.sounds.empty()) return;
    Table table({"sound", "plays", "refused", "stolen", "at once", "takes heard", "pitch", "gain", "loudest"});
    for (const SoundSummary& row : summary.sounds)
        table.add({row.sound, std::to_string(row.plays), std::to_string(row.refused), std::to_string(row.stolen),
                   std::to_string(row.most_at_once), fmt::format("{} of {}", row.takes_heard, row.takes),
                   range(row.least_pitch, row.most_pitch, "st"), range(row.least_gain, row.most_gain, "dB"),
                   row.plays > 0 ? fmt::format("{:.1f} dBFS", row.peak) : "-"});
    table.print();
    print_buses(rehearsal);
    for (const std::string& sound : rehearsal.endless)
        std::cout << fmt::format("{} would have sounded for ever: faded out after the last line\n", sound);
}

} // namespace kiai::tool
