#include "core/reader/clip_files.h"

#include "core/model/number_text.h"

namespace kiai::reader {

bool is_streamed(Stream wanted, Frames frames, int rate) noexcept {
    constexpr Frames long_seconds = 30; // from here on a clip is streamed without being asked
    return wanted == Stream::yes || (wanted == Stream::when_long && frames > long_seconds * rate);
}

Decoded not_read() {
    Decoded decoded;
    decoded.code = FindingCode::load_cancelled;
    decoded.message = "was not read, because loading was cancelled";
    decoded.fix = "load the project again";
    return decoded;
}

std::string cut_short(const Facts& facts) {
    if (facts.claimed >= 0 && facts.claimed <= facts.frames) return {};
    const std::string after = "is cut short after " + model::fixed(facts.seconds(), 2) + " s";
    return facts.claimed < 0 ? after
                             : after + " of " + model::fixed(static_cast<double>(facts.claimed) / facts.rate, 2) + " s";
}

} // namespace kiai::reader
