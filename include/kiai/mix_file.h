// Records what the player hears into a sound file.
#pragma once

#include <filesystem>
#include <memory>
#include <span>
#include <string>

namespace kiai::inline v0 {

/// A stereo file that Engine::set_mix_sink fills: `engine.set_mix_sink(kiai::MixFile("run.wav",
/// engine.sample_rate()))`. A small value; copies write to the same file, which is complete when the last of them is
/// gone, or after `close`. One thread. Never throws but bad_alloc.
class MixFile {
  public:
    /// Opens the file, in place of one of that name. Its extension chooses what it is: `.wav` (32-bit float), `.flac`
    /// (24-bit) or `.ogg` (Vorbis). `sample_rate`: frames per second.
    MixFile(const std::filesystem::path& file, int sample_rate);

    /// Returns why the file cannot be written; empty while all is well.
    const std::string& error() const noexcept;

    /// Appends interleaved frames; nothing after an error.
    void operator()(std::span<const float> frames);
    /// Completes the file; frames that come later are left out.
    void close();

  private:
    struct State;
    std::shared_ptr<State> state_;
};

} // namespace kiai::inline v0

#ifdef KIAI_SILENT
#include <kiai/silent/mix_file.h>
#endif
