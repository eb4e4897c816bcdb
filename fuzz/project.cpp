// kiai.toml: whatever stands in it, there are findings, and what is left plays.
#include "support/files_in_memory.h"
#include "support/signal.h"
#include "target.h"

#include <sstream>

namespace {

/// A tiny WAV of 16 bits, which stands for every clip.
std::string tiny_wav() {
    std::string data(200, '\0');
    for (std::size_t i = 0; i < data.size(); i += 2) data[i + 1] = static_cast<char>(i % 64);
    const auto little = [](std::uint32_t value, int bytes) {
        std::string out;
        for (int i = 0; i < bytes; ++i) out += static_cast<char>(value >> 8 * i & 255);
        return out;
    };
    return "RIFF" + little(36 + 200, 4) + "WAVEfmt " + little(16, 4) + little(1, 2) + little(1, 2) + little(48000, 4) +
           little(96000, 4) + little(2, 2) + little(16, 2) + "data" + little(200, 4) + data;
}

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    static const std::string wav = tiny_wav();
    std::map<std::string, std::string> files{{"kiai.toml", fuzz::text_of(data, size)}};
    for (int n = 1; n <= 9; ++n)
        for (const char* name : {"oak", "drop", "peg"})
            files["clips/" + std::string(name) + "-" + std::to_string(n) + ".wav"] = wav;
    kiai::LoadOptions options;
    options.open = support::files_in_memory(std::move(files));
    const kiai::Loaded loaded = kiai::load_project("bench", options);
    for (const kiai::Finding& finding : loaded.findings) {
        std::ostringstream line;
        line << finding;
        if (line.str().find('\n') != std::string::npos) std::abort(); // one line each
    }
    fuzz::play(loaded.project);
    return 0;
}
