#include "support/signal.h"

#include <algorithm>
#include <cmath>
#include <random>

namespace support {

Signal sine(double frequency, double amplitude, std::size_t frames, double rate, double phase) {
    Signal out(frames);
    for (std::size_t i = 0; i < frames; ++i)
        out[i] = static_cast<float>(amplitude * std::sin(2 * pi * (frequency * static_cast<double>(i) / rate + phase)));
    return out;
}

Signal noise(double amplitude, std::size_t frames, std::uint64_t seed) {
    std::mt19937_64 generator(seed);
    Signal out(frames);
    for (float& sample : out)
        sample = static_cast<float>(amplitude * (2 * std::ldexp(static_cast<double>(generator() >> 11), -53) - 1));
    return out;
}

std::string wav_bytes(const Signal& signal, int rate) {
    const auto little = [](std::size_t value, int bytes) {
        std::string out;
        for (int i = 0; i < bytes; ++i) out += static_cast<char>(value >> 8 * i & 255);
        return out;
    };
    std::string data;
    for (const float sample : signal)
        data += little(static_cast<std::uint16_t>(std::lround(32767 * std::clamp(sample, -1.0f, 1.0f))), 2);
    const auto frames_per_second = static_cast<std::size_t>(rate);
    return "RIFF" + little(36 + data.size(), 4) + "WAVEfmt " + little(16, 4) + little(1, 2) + little(1, 2) +
           little(frames_per_second, 4) + little(2 * frames_per_second, 4) + little(2, 2) + little(16, 2) + "data" +
           little(data.size(), 4) + data;
}

Signal side(const std::vector<float>& interleaved, int which) {
    Signal out;
    for (std::size_t i = static_cast<std::size_t>(which); i < interleaved.size(); i += 2) out.push_back(interleaved[i]);
    return out;
}

double rms(const Signal& signal, std::size_t from, std::size_t to) {
    double sum = 0;
    for (std::size_t i = from; i < to; ++i) sum += static_cast<double>(signal[i]) * signal[i];
    return std::sqrt(sum / static_cast<double>(to - from));
}

double peak(const Signal& signal) {
    double most = 0;
    for (const float sample : signal) most = std::max(most, std::abs(static_cast<double>(sample)));
    return most;
}

double db(double linear) {
    return linear > 0 ? 20 * std::log10(linear) : -400;
}

double Fit::snr_db() const {
    return db(amplitude / std::sqrt(2.0) / std::max(residue, 1e-30));
}

std::ptrdiff_t find_part(const Signal& whole, const float* part, std::size_t length) {
    for (std::size_t at = 0; at + length <= whole.size(); ++at) {
        std::size_t same = 0;
        while (same < length && std::abs(whole[at + same] - part[same]) < 1e-4f) ++same;
        if (same == length) return static_cast<std::ptrdiff_t>(at);
    }
    return -1;
}

Fit fit_sine(const Signal& signal, double frequency, std::size_t from, std::size_t to, double rate) {
    const double w = 2 * pi * frequency / rate;
    double ss = 0, sc = 0, cc = 0, xs = 0, xc = 0;
    for (std::size_t i = from; i < to; ++i) {
        const double s = std::sin(w * static_cast<double>(i)), c = std::cos(w * static_cast<double>(i)), x = signal[i];
        ss += s * s, sc += s * c, cc += c * c, xs += x * s, xc += x * c;
    }
    const double det = ss * cc - sc * sc, a = (xs * cc - xc * sc) / det, b = (xc * ss - xs * sc) / det;
    double left = 0;
    for (std::size_t i = from; i < to; ++i) {
        const double model = a * std::sin(w * static_cast<double>(i)) + b * std::cos(w * static_cast<double>(i));
        left += (signal[i] - model) * (signal[i] - model);
    }
    return {std::hypot(a, b), std::sqrt(left / static_cast<double>(to - from))};
}

double largest_second_difference(const Signal& signal) {
    Signal padded(signal.size() + 4, 0.0f);
    std::copy(signal.begin(), signal.end(), padded.begin() + 2);
    double most = 0;
    for (std::size_t i = 1; i + 1 < padded.size(); ++i)
        most = std::max(most, std::abs(static_cast<double>(padded[i + 1]) - 2.0 * padded[i] + padded[i - 1]));
    return most;
}

double largest_inner_second_difference(const Signal& part) {
    double most = 0;
    for (std::size_t n = 1; n + 1 < part.size(); ++n)
        most = std::max(most, std::abs(double{part[n + 1]} - 2 * double{part[n]} + double{part[n - 1]}));
    return most;
}

std::vector<kiai::Decision> with_outcome(const std::vector<kiai::Decision>& decisions, kiai::Outcome outcome) {
    std::vector<kiai::Decision> out;
    std::copy_if(decisions.begin(), decisions.end(), std::back_inserter(out),
                 [&](const kiai::Decision& d) { return d.outcome == outcome; });
    return out;
}

std::vector<float> render(kiai::Engine& engine, kiai::Frames frames, kiai::Frames block) {
    std::vector<float> out(static_cast<std::size_t>(frames) * 2);
    for (kiai::Frames done = 0; done < frames; done += block)
        engine.render(std::span(out).subspan(static_cast<std::size_t>(done) * 2,
                                             static_cast<std::size_t>(std::min(block, frames - done)) * 2));
    return out;
}

} // namespace support
