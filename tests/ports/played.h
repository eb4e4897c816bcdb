// What an engine decided and rendered, and digests that are the same on every system.
#pragma once

#include <kiai/decision.h>

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <cstdio>
#include <string>
#include <vector>

namespace ports {

/// FNV-1a of 64 bits.
class Digest {
  public:
    void add(const void* data, std::size_t size) {
        const auto* const bytes = static_cast<const unsigned char*>(data);
        for (std::size_t i = 0; i < size; ++i) sum_ = (sum_ ^ bytes[i]) * 0x100000001b3u;
    }
    template<class Number>
    void number(Number value) {
        add(&value, sizeof value);
    }
    void text(const std::string& value) {
        number(static_cast<std::uint64_t>(value.size()));
        add(value.data(), value.size());
    }
    unsigned long long sum() const { return sum_; }

  private:
    std::uint64_t sum_ = 0xcbf29ce484222325u;
};

/// What an engine did.
struct Played {
    std::vector<float> samples;
    Digest decisions;
    int count = 0;

    void add(const kiai::Decision& decision) {
        ++count;
        decisions.number(static_cast<std::int64_t>(decision.frame));
        decisions.number(static_cast<std::int32_t>(decision.outcome));
        decisions.number(static_cast<std::int32_t>(decision.trigger));
        decisions.number(static_cast<std::int32_t>(decision.binding));
        decisions.number(static_cast<std::uint32_t>(decision.play));
        decisions.number(static_cast<std::int32_t>(decision.reason));
        decisions.text(decision.on + ' ' + decision.sound + ' ' + decision.rule);
        decisions.text(describe(decision));
        for (const kiai::LayerTake& layer : decision.layers) {
            decisions.text(layer.clip);
            decisions.number(layer.pitch);
            decisions.number(layer.gain);
            decisions.number(layer.pan);
        }
    }
    unsigned long long sum() const {
        Digest digest;
        for (const float sample : samples) digest.number(sample == 0 ? 0.0f : sample); // -0 is silence too
        return digest.sum();
    }
};

/// Prints the digests of a run with the portable kernels, and how far the same run with the system's vector kernels is
/// from them. Returns the exit status.
inline int compare(const Played& portable, const Played& vectors) {
    double most = 0, peak = 0;
    for (std::size_t i = 0; i < portable.samples.size(); ++i) {
        const auto sample = static_cast<double>(portable.samples[i]);
        most = std::max(most, std::fabs(sample - static_cast<double>(vectors.samples[i])));
        peak = std::max(peak, std::fabs(sample));
    }
    const bool equal = portable.count == vectors.count && portable.decisions.sum() == vectors.decisions.sum();
    std::printf("decisions %d %016llx\n", portable.count, portable.decisions.sum());
    std::printf("samples %zu %016llx\n", portable.samples.size(), portable.sum());
    std::printf("peak %.3f\n", peak);
    std::printf("vector decisions %s\n", equal ? "equal" : "differ");
    if (most > 0)
        std::printf("vector samples within %.0f dB\n", 20 * std::log10(most));
    else
        std::printf("vector samples equal\n");
    return equal && peak > 0.01 && most < 1e-6 ? 0 : 1;
}

} // namespace ports
