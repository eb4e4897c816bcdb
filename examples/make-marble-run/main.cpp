// Writes the marble run's clips: make-marble-run FOLDER
#include "clips.h"

#include <sndfile.h>

#include <filesystem>
#include <iostream>

namespace {

bool write_clip(const std::filesystem::path& path, const bench::Samples& samples) {
    SF_INFO info{};
    info.samplerate = bench::rate;
    info.channels = 1;
    info.format = SF_FORMAT_WAV | SF_FORMAT_PCM_16;
    SNDFILE* file = sf_open(path.string().c_str(), SFM_WRITE, &info);
    if (!file) return false;
    std::vector<short> rounded;
    for (const double sample : samples) rounded.push_back(static_cast<short>(std::lrint(sample * 32767)));
    const auto written = sf_write_short(file, rounded.data(), static_cast<sf_count_t>(rounded.size()));
    return sf_close(file) == 0 && written == static_cast<sf_count_t>(rounded.size());
}

} // namespace

int main(int count, char** arguments) {
    if (count != 2) {
        std::cerr << "usage: make-marble-run FOLDER\n";
        return 2;
    }
    const std::filesystem::path folder = arguments[1];
    std::filesystem::create_directories(folder / "clips");
    for (const bench::Clip& clip : bench::make_clips()) {
        if (write_clip(folder / "clips" / (clip.name + ".wav"), clip.samples)) continue;
        std::cerr << clip.name << " could not be written\n";
        return 1;
    }
    return 0;
}
