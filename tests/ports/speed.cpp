// Prints how many voices at +4 semitones this system mixes in real time on one core: kiai_port_speed
#include <kiai/builder.h>
#include <kiai/engine.h>

#include <algorithm>
#include <chrono>
#include <cstdio>
#include <vector>

namespace {

constexpr int rate = 48000, voices = 200, block = 256, blocks = 200;

double seconds_for(kiai::Engine& engine) {
    std::vector<float> out(2 * block);
    const auto begin = std::chrono::steady_clock::now();
    for (int b = 0; b < blocks; ++b) engine.render(out);
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
}

} // namespace

int main() {
    kiai::Samples noise;
    noise.rate = rate;
    std::uint32_t state = 1;
    for (int i = 0; i < 2 * rate; ++i) {
        state = state * 1664525u + 1013904223u; // Numerical Recipes, 7.1
        noise.interleaved.push_back(static_cast<float>(state >> 8) / 16777216.0f - 0.5f);
    }
    kiai::ProjectBuilder project;
    project.clip("hum", noise);
    project.set("sound.hum.takes", {"hum"}).set("sound.hum.loop", kiai::Settings{{"from", "0 s"}, {"to", "2 s"}});
    project.set("sound.hum.limit.plays", voices);
    const kiai::LoadResult built = project.build();
    for (const kiai::Finding& finding : built.findings) std::fprintf(stderr, "%s\n", to_string(finding).c_str());
    kiai::Engine engine(built.project, {.seed = 1});
    for (int v = 0; v < voices; ++v) engine.play("hum", {.gain = -40, .pitch = 4});
    seconds_for(engine);
    const double heard = static_cast<double>(blocks) * block / rate;
    std::vector<double> turns;
    for (int turn = 0; turn < 11; ++turn) turns.push_back(seconds_for(engine));
    std::sort(turns.begin(), turns.end());
    std::printf("voices %.0f of %d playing\n", voices * heard / turns[turns.size() / 2], engine.sounding());
    return engine.sounding() == voices ? 0 : 1;
}
