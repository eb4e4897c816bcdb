#include "runtime/audio/refuse.h"

#include "core/model/fill.h"

#include <algorithm>

namespace kiai::runtime {

reader::Decoded refuse(reader::Decoded decoded, FindingCode code, std::string message, std::string fix) {
    decoded.audio = nullptr;
    decoded.code = code;
    decoded.message = std::move(message);
    decoded.fix = std::move(fix);
    return decoded;
}

reader::Decoded refuse_length(reader::Decoded decoded, Frames frames, int rate) {
    return refuse(std::move(decoded), FindingCode::file_too_long,
                  model::fill("lasts {} minutes, or claims to: more than 1 GiB in memory",
                              model::fixed(static_cast<double>(frames) / rate / 60, 0)),
                  "cut the file into shorter parts, or export it again if the length is wrong");
}

reader::Decoded check_shape(reader::Decoded decoded, int rate, int channels) {
    if (channels > 8)
        return refuse(std::move(decoded), FindingCode::file_channels, model::fill("has {} channels", channels),
                      "export the file again with at most eight");
    if (rate < 1000 || rate > 768000)
        return refuse(std::move(decoded), FindingCode::file_unreadable,
                      model::fill("claims a rate of {} frames per second", rate), "export it again at 48000");
    return decoded;
}

reader::Decoded accept(reader::Decoded decoded, std::shared_ptr<model::Audio> audio, Frames stated, Frames most,
                       Frames most_frames) {
    if (const std::ptrdiff_t bad = audio->complete(); bad >= 0)
        return refuse(std::move(decoded), FindingCode::file_not_finite,
                      model::fill("has a sample that is NaN or infinite, at frame {}", bad % audio->held),
                      "export it again, with peaks below full scale or as 24-bit");
    decoded.facts.frames = most > 0 && audio->held == most ? std::max(stated, audio->held) : audio->frames;
    if (audio->held >= most_frames) return refuse_length(std::move(decoded), audio->frames, audio->rate);
    if (audio->held == 0)
        return refuse(std::move(decoded), FindingCode::file_empty, "holds no frames",
                      "export it again; the export may have been interrupted");
    decoded.audio = std::move(audio);
    return decoded;
}

} // namespace kiai::runtime
