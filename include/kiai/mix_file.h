// Records the finished mix into an audio file.
#pragma once

#include <filesystem>
#include <memory>
#include <span>
#include <string>

namespace kiai::inline v0 {

/// A stereo file, as a sink for Engine::set_mix_sink: `engine.set_mix_sink(kiai::MixFile("run.wav",
/// engine.sample_rate()))`. A small value; copies write to the same file. The file is complete after `close`, or when
/// the last copy is destroyed. One thread at a time. Throws only bad_alloc.
class MixFile {
  public:
    /// Creates or replaces the file. Its extension chooses the format: `.wav` (32-bit float), `.flac` (24-bit) or
    /// `.ogg` (Vorbis). `sample_rate`: frames per second.
    MixFile(const std::filesystem::path& file, int sample_rate);

    /// Returns why the file cannot be written, or an empty text.
    const std::string& error() const noexcept;

    /// Appends interleaved frames. No effect after an error.
    void operator()(std::span<const float> frames);
    /// Completes the file. Later frames are ignored.
    void close();

  private:
    struct State;
    std::shared_ptr<State> state_;
};

} // namespace kiai::inline v0

#ifdef KIAI_SILENT
#include <kiai/silent/mix_file.h>
#endif
