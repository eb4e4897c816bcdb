#include <kiai/mix_file.h>

#include <sndfile.h>

#include <algorithm>
#include <cctype>

namespace kiai::inline v0 {
namespace {

/// Returns 0 for an unknown extension.
int format_of(const std::filesystem::path& file) {
    std::string extension = file.extension().string();
    std::transform(extension.begin(), extension.end(), extension.begin(),
                   [](unsigned char letter) { return static_cast<char>(std::tolower(letter)); });
    if (extension == ".wav") return SF_FORMAT_WAV | SF_FORMAT_FLOAT;
    if (extension == ".flac") return SF_FORMAT_FLAC | SF_FORMAT_PCM_24;
    if (extension == ".ogg") return SF_FORMAT_OGG | SF_FORMAT_VORBIS;
    return 0;
}

} // namespace

struct MixFile::State {
    ~State() { close(); }
    void close() noexcept {
        if (file) sf_close(file);
        file = nullptr;
    }
    void fail(const std::string& why) {
        error = why;
        close();
    }
    SNDFILE* file = nullptr;
    std::string error;
};

MixFile::MixFile(const std::filesystem::path& file, int sample_rate) : state_(std::make_shared<State>()) {
    SF_INFO info{};
    info.samplerate = sample_rate;
    info.channels = 2;
    info.format = format_of(file);
    if (info.format != 0) state_->file = sf_open(file.string().c_str(), SFM_WRITE, &info);
    if (info.format == 0)
        state_->fail(file.string() + " has an unknown extension; use .wav, .flac or .ogg");
    else if (!state_->file)
        state_->fail(file.string() + " cannot be written: " + sf_strerror(nullptr));
    else
        sf_command(state_->file, SFC_SET_CLIPPING, nullptr, SF_TRUE); // of whole numbers: held, not wrapped
}

const std::string& MixFile::error() const noexcept {
    return state_->error;
}

void MixFile::operator()(std::span<const float> frames) {
    if (!state_->file) return;
    const auto count = static_cast<sf_count_t>(frames.size() / 2);
    if (sf_writef_float(state_->file, frames.data(), count) != count)
        state_->fail(std::string("the file can no longer be written: ") + sf_strerror(state_->file));
}

void MixFile::close() {
    state_->close();
}

} // namespace kiai::inline v0
