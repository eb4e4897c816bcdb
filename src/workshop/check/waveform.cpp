#include "workshop/check/waveform.h"

#include "workshop/facts/measure.h"

#include <algorithm>
#include <cmath>

namespace kiai::workshop {

std::vector<Column> waveform_of(const model::Audio& audio, int count) {
    std::vector<Column> columns(static_cast<std::size_t>(std::clamp(count, 1, 10000)));
    for (int channel = 0; channel < audio.channels; ++channel) {
        const std::vector<float> samples = channel_of(audio, channel);
        const auto stretches = static_cast<std::int64_t>(columns.size());
        for (std::int64_t c = 0; c < stretches; ++c) {
            const std::int64_t from = c * audio.frames / stretches,
                               to = std::max(from + 1, (c + 1) * audio.frames / stretches);
            double peak = 0;
            for (std::int64_t i = from; i < std::min(to, audio.frames); ++i)
                peak = std::max(peak, std::abs(static_cast<double>(samples[static_cast<std::size_t>(i)])));
            Column& column = columns[static_cast<std::size_t>(c)];
            column.peak =
                std::max(column.peak, peak > 0 ? static_cast<Decibels>(20 * std::log10(peak)) : Facts::silent);
        }
    }
    for (const Frames frame : clipped_frames(audio)) {
        const auto column = static_cast<std::size_t>(frame * static_cast<Frames>(columns.size()) / audio.frames);
        columns[std::min(column, columns.size() - 1)].clipped = true;
    }
    return columns;
}

} // namespace kiai::workshop
